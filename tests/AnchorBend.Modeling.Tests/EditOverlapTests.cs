using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Tests;

public sealed class EditOverlapTests
{
    const string P = "/definitions/main/parts/";

    [Theory]
    [InlineData(P + "p1/parameters/k", P + "p1/parameters/k", true)]
    [InlineData(P + "p1/parameters/k", P + "p1/parameters/Ti", false)]
    [InlineData(P + "p1", P + "p1/parameters/k", true)]
    [InlineData(P + "p1/x", P + "p1", true)]
    [InlineData(P + "p1", P + "p12", false)]
    [InlineData("/definitions/main/wires/w1/bends/0", "/definitions/main/wires/w1/bends/2", true)]
    [InlineData("/settings/steadyParts/-", "/settings/steadyParts", true)]
    [InlineData("/settings/end", "/settings/step", false)]
    public void Edits_meet_where_one_place_holds_the_other(string one, string other, bool meet)
    {
        PatchOperation[] Edit(string path) => [new("replace", "/definitions/main/name", "M"), new("add", path, "1")];
        PatchOperation[] single = [new("remove", other)];
        Assert.Equal(meet, EditOverlap.IsBetween(Edit(one), single));
        Assert.Equal(meet, EditOverlap.IsBetween(single, Edit(one)));
    }
}
