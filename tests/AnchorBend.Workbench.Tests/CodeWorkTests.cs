using AnchorBend.Delivery;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Code;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Parts of models as C code, as the interface asks for it.</summary>
public sealed class CodeWorkTests : IDisposable
{
    readonly Bench bench = new();
    readonly string id;
    readonly CodeWork code;

    public CodeWorkTests()
    {
        code = new CodeWork(bench.Models, bench.Compute);
        id = bench.Create(
            new DiagramDefinition
            {
                Name = "Rig",
                Parts = new() { ["l"] = Part("Lag", "Filter", ("T", "0.2 s"), ("k", "3")), ["m"] = Part("Mass", "Net") },
            }.AsModel()
        );
    }

    public void Dispose() => bench.RunStore.Dispose();

    static CodeOrder Order(string part = "l", string step = "10 ms", string? method = null) => new(part, step, method, false, null);

    [Fact]
    public void A_part_is_written_with_what_goes_in_and_comes_out()
    {
        var written = code.Write(id, Order(), default);
        Assert.Equal("Filter", written.Name);
        Assert.Equal(["filter.h", "filter.c"], written.Files.Select(f => f.Name));
        Assert.Equal(("u", "real"), (written.Inputs.Single().Name, written.Inputs.Single().Type));
        Assert.Equal("y", written.Outputs.Single().Name);
        Assert.Contains(written.Parameters, p => p is { Name: "T", Unit: "s" });
        var lines = written.Files[1].Text.Split('\n');
        Assert.All(written.Files[1].Lines, l => Assert.InRange(l.Line, 1, lines.Length));
        Assert.NotEmpty(written.Files[1].Lines);
        // Those that could be tuned are told also where none is.
        var none = code.Write(id, Order() with { Tunable = [] }, default);
        Assert.Equal(written.Parameters, none.Parameters);
        Assert.Contains("static const double", none.Files[1].Text, StringComparison.Ordinal);
    }

    [Fact]
    public void It_is_compared_with_the_model()
    {
        if (!NativeCode.HasCompiler)
            return;
        var check = code.Check(id, new CodeCheckOrder(Order(method: "heun"), 500, 1), default);
        Assert.Equal((500L, "", null), (check.Steps, check.Compiler, check.First));
        Assert.Equal(0, check.Largest["y"]);
    }

    [Theory]
    [InlineData("m", "10 ms", null, "physical port")]
    [InlineData("gone", "10 ms", null, "has no part 'gone'")]
    [InlineData("l", "soon", null, "is no time")]
    [InlineData("l", "-1 ms", null, "step must lie")]
    [InlineData("l", "1 ms", "guess", "no method 'guess'")]
    public void What_cannot_be_written_is_told(string part, string step, string? method, string said)
    {
        var failure = Assert.Throws<DeliveryException>(() => code.Write(id, Order(part, step, method), default));
        Assert.Contains(said, failure.Message, StringComparison.Ordinal);
        Assert.NotEmpty(failure.Advice);
    }

    [Fact]
    public void Steps_are_bounded() =>
        Assert.Throws<DeliveryException>(() => code.Check(id, new CodeCheckOrder(Order(), 1_000_000_000, 1), default));
}
