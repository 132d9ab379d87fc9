using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;

namespace AnchorBend.Interchange.Tests;

/// <summary>Walks the catalog: each part's example opens, runs, plots something, reads back from text, and lies without overlaps.</summary>
public class PartExampleTests
{
    public static TheoryData<string> Parts => [.. PartCatalog.Standard.Parts.Select(p => p.Name)];

    [Theory, MemberData(nameof(Parts))]
    public void The_example_of_a_part_runs(string name)
    {
        var document = PartExample.Of(name, PartCatalog.Standard);
        var prepared = PreparedModel.Prepare(DocumentElaboration.Elaborate(document, PartCatalog.Standard));
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings));
        using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), DocumentRun.OptionsOf(document));
        var result = simulator.Run();
        // A monitor is there to stop the run.
        Assert.True(result.Failure is null || name == "Monitor" && result.Failure.Code == "assertion", result.Failure?.ToString());
        Assert.True(
            document.Main.Signals.Count > 0
                || PartCatalog.Standard.Describe(name).Ports.All(p => p.Causality == Language.Syntax.Causality.Input)
        );
        foreach (var key in document.Main.Signals.Keys)
        {
            var part = document.Main.Parts[key[..key.IndexOf('.', StringComparison.Ordinal)]];
            Assert.True(
                prepared.Model.Find(part.Name + key[key.IndexOf('.', StringComparison.Ordinal)..]) is not null,
                $"nothing is known as {key}"
            );
        }

        Assert.Equal(document.Main.Wires.Count, TextImport.Read(TextExport.Write(document, PartCatalog.Standard)).Main.Wires.Count);
        Assert.Empty(Overlaps(document));
    }

    static IEnumerable<(string, string)> Overlaps(ModelDocument document)
    {
        var boxes = document
            .Main.Parts.Values.Select(p =>
                (p.Name, p.X, p.Y, PartCatalog.Standard.Describe(p.Type).Width, PartCatalog.Standard.Describe(p.Type).Height)
            )
            .ToList();
        return from a in boxes
            from b in boxes
            where
                string.CompareOrdinal(a.Name, b.Name) < 0
                && a.X < b.X + b.Width
                && b.X < a.X + a.Width
                && a.Y < b.Y + b.Height
                && b.Y < a.Y + a.Height
            select (a.Name, b.Name);
    }
}
