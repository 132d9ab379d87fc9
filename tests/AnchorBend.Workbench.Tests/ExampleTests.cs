using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Verification;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Shelf;

namespace AnchorBend.Workbench.Tests;

/// <summary>What the examples promise whoever learns by them.</summary>
public sealed class ExampleTests
{
    static IEnumerable<string> Types(ModelDocument document) =>
        document.Definitions.Values.OfType<DiagramDefinition>().SelectMany(d => d.Parts.Values).Select(p => p.Type);

    [Fact]
    public void Every_part_of_the_catalog_is_used_in_one()
    {
        var used = Examples.All().Values.SelectMany(Types).ToHashSet();
        Assert.DoesNotContain(PartCatalog.Standard.Parts, p => !used.Contains(p.Name));
    }

    [Fact]
    public void There_are_many_and_each_says_what_it_is_and_what_to_try()
    {
        var all = ExampleShelf.Find(null);
        Assert.True(all.Count >= 40, $"{all.Count} examples");
        Assert.All(all, e => Assert.True(e.Description?.Length > 40 && e.Try.Length > 30, e.Key));
        Assert.Equal(all.Count, all.Select(e => e.Name).Distinct().Count());
    }

    public static TheoryData<string> Keys() => [.. Examples.All().Keys];

    [Theory]
    [MemberData(nameof(Keys))]
    public void Each_has_nothing_to_warn_of_runs_and_is_judged(string key)
    {
        var document = Examples.All()[key];
        var catalog = PartCatalog.Of(document, PartCatalog.Standard);
        var findings = DocumentPreparation.Prepare(document, catalog).Findings;
        Assert.DoesNotContain(findings, f => f.Severity != Severity.Information);

        var card = ModelCard.Of(document, catalog, 1, new ComputeGate(), default);
        // A slow machine may not get to the end of the longest ones in the time that a card has.
        if (card.Problem == ModelCard.TooLong)
            return;
        Assert.Null(card.Problem);
        Assert.Equal(document.Requirements.Count, card.Verdicts.Count);
        Assert.All(card.Verdicts, v => Assert.True(v is VerdictKind.Met or VerdictKind.Missed, $"{v}"));
    }
}
