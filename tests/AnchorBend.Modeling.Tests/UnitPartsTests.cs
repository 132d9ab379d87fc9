using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Documents;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Modeling.Tests;

/// <summary>Parts that exchange units compute are numbered before a model is put together.</summary>
public class UnitPartsTests
{
    const string Hash = "00000000a0000000000000000000000b";

    static readonly TextDefinition Bought = new()
    {
        Name = "Bought",
        Text = "block Bought end Bought;",
        Unit = Hash,
    };

    static DiagramDefinition Holding(string name, params (string Id, string Type)[] parts) =>
        new() { Name = name, Parts = parts.ToDictionary(p => p.Id, p => Part(p.Type, p.Id)) };

    static (ModelDocument Document, List<Finding> Findings) Numbered(ModelDocument document)
    {
        var findings = new List<Finding>();
        return (UnitParts.Of(document, findings), findings);
    }

    static void Offer() => OutsideUnits.Offer(OutsideUnits.KindOf(Hash), () => throw new InvalidOperationException("nobody runs here"));

    [Fact]
    public void Each_part_gets_a_number_of_its_own()
    {
        Offer();
        var (document, findings) = Numbered(
            Holding("M", ("a", "#unit"), ("b", "#unit"), ("g", "Gain"), ("s", "#level"))
                .AsModel()
                .With("unit", Bought)
                .With("level", Holding("Level", ("c", "#unit")))
        );
        Assert.Empty(findings);
        string[] numbers =
        [
            document.Main.Parts["a"].Parameters[UnitParts.Number],
            document.Main.Parts["b"].Parameters[UnitParts.Number],
            ((DiagramDefinition)document.Definitions["level"]).Parts["c"].Parameters[UnitParts.Number],
        ];
        Assert.Equal(3, numbers.Distinct().Count());
        Assert.All(numbers, n => Assert.Equal(OutsideUnits.KindOf(Hash), long.Parse(n) / OutsideUnits.PerOffer));
        Assert.Empty(document.Main.Parts["g"].Parameters);
    }

    [Fact]
    public void A_level_that_is_used_twice_cannot_share_one_unit()
    {
        Offer();
        var (_, findings) = Numbered(
            Holding("M", ("s", "#level"), ("t", "#level")).AsModel().With("unit", Bought).With("level", Holding("Level", ("c", "#unit")))
        );
        var finding = Assert.Single(findings);
        Assert.Equal("linked", finding.Code);
        Assert.Contains("2 times", finding.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_unit_that_nobody_brought_is_told()
    {
        var (_, findings) = Numbered(Holding("M", ("a", "#unit")).AsModel().With("unit", Bought with { Unit = new string('e', 32) }));
        Assert.Contains("not at hand", Assert.Single(findings).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_model_without_units_stays_the_same()
    {
        var document = Holding("M", ("g", "Gain")).AsModel();
        Assert.Same(document, Numbered(document).Document);
    }

    [Theory]
    [InlineData("short")]
    [InlineData("0000000000000000000000000000000G")]
    public void A_hash_that_is_none_is_refused(string hash)
    {
        var document = Holding("M").AsModel().With("unit", Bought with { Unit = hash });
        Assert.Throws<DocumentException>(() => DocumentLimits.Checked(document));
    }
}
