using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Verification;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Shelf;

namespace AnchorBend.Workbench.Tests;

/// <summary>What a card says of a model.</summary>
public sealed class ModelCardTests
{
    static ModelCard Of(ModelDocument document, CancellationToken wanted = default) =>
        ModelCard.Of(document, PartCatalog.Of(document, PartCatalog.Standard), 3, new ComputeGate(), wanted);

    [Fact]
    public void A_card_has_the_course_of_what_is_required_in_the_unit_that_people_read()
    {
        var card = Of(Examples.All()["hatchery-tank"]);
        Assert.Equal("temperature", card.Course!.Label);
        // In degrees, not kelvins; time and value one after the other, from the start to the end.
        Assert.Equal(14, card.Course.Points[1], 1e-3);
        Assert.Equal((0, 3600), (card.Course.Points[0], card.Course.Points[^2]));
        Assert.Equal([VerdictKind.Met, VerdictKind.Met], card.Verdicts);
        Assert.Null(card.Problem);
    }

    [Fact]
    public void The_picture_has_no_numbers_of_the_model_in_it()
    {
        var card = Of(Examples.All()["hatchery-tank"]);
        Assert.All(card.Picture!.Parts.Values, p => Assert.Empty(p.Parameters));
        Assert.All(card.Views.Values, v => Assert.Empty(v.Parameters));
        Assert.Equal(8, card.Picture.Wires.Count);
    }

    [Fact]
    public void A_run_that_nobody_waits_for_any_more_is_not_told_to_take_long()
    {
        using var gone = new CancellationTokenSource();
        gone.Cancel();
        Assert.ThrowsAny<OperationCanceledException>(() => Of(Examples.All()["hatchery-tank"], gone.Token));
    }

    [Fact]
    public void An_empty_model_has_a_card_without_a_run()
    {
        var card = Of(new DiagramDefinition { Name = "Empty" }.AsModel());
        Assert.Equal((0, null, null), (card.Parts, card.Course, card.Problem));
    }

    [Fact]
    public void A_level_of_very_many_parts_is_not_drawn_small()
    {
        var many = Enumerable
            .Range(0, 200)
            .ToDictionary(
                n => $"p{n}",
                n => new PartNode
                {
                    Type = "Constant",
                    Name = $"c{n}",
                    X = 100 * n,
                }
            );
        var card = Of(new DiagramDefinition { Name = "Many", Parts = many }.AsModel());
        Assert.Null(card.Picture);
        Assert.Equal(200, card.Parts);
    }

    [Fact]
    public void A_model_is_found_by_the_kinds_of_its_parts_and_its_domains()
    {
        var document = Examples.All()["tide-gate"];
        var facts = ModelCard.FactsOf(document, PartCatalog.Of(document, PartCatalog.Standard));
        Assert.Contains("relief valve", facts.Words);
        Assert.Contains("hydraulic", facts.Domains);
    }
}
