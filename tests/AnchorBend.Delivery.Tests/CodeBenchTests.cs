using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation.Grid;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Delivery.Tests;

/// <summary>What runs of a unit's code have reached of it, and what it takes.</summary>
public class CodeBenchTests
{
    static CodeUnit Limiter(string top = "1") =>
        Unit(
            new DiagramDefinition
            {
                Name = "Rig",
                Parts = new() { ["c"] = Part("Saturation", "Unit", ("upper", top), ("lower", "-1")) },
            }.AsModel()
        );

    static CodeUnit Unit(ModelDocument model, string[]? tunable = null) =>
        CodeUnit.Of(model, PartCatalog.Of(model), new CodeRequest("Unit", 0.01, GridMethod.Euler, false, tunable));

    /// <summary>A limiter that never meets its lower limit leaves that way open, until it does.</summary>
    [CompiledFact]
    public void Ways_that_no_input_takes_stay_open()
    {
        var unit = Limiter();
        using var bench = CodeBench.Build(unit, true, CancellationToken.None);
        double[][] up =
        [
            [0.5],
            [2.0],
            [0.7],
        ];
        Assert.Null(bench.Run(unit, up, CancellationToken.None).First);
        var before = bench.Counts(CancellationToken.None);
        Assert.Contains(before, l => l.Count == 3);
        Assert.True(before.Sum(l => l.Reached) < before.Sum(l => l.Ways));
        Assert.Null(
            bench
                .Run(
                    unit,
                    [
                        [-3.0],
                    ],
                    CancellationToken.None
                )
                .First
        );
        var after = bench.Counts(CancellationToken.None);
        Assert.Contains(after, l => l.Count == 4);
        Assert.Equal(after.Sum(l => l.Ways), after.Sum(l => l.Reached));
        Assert.DoesNotContain(after, l => l.Count == 0);
    }

    /// <summary>Values of tunable parameters go in with the inputs; what is a number in the code cannot.</summary>
    [CompiledFact]
    public void Other_values_run_on_the_same_code()
    {
        using var bench = CodeBench.Build(Limiter(), false, CancellationToken.None);
        var wide = Limiter("5");
        Assert.True(bench.Suits(wide));
        var result = bench.Run(
            wide,
            [
                [4.0],
                [7.0],
            ],
            CancellationToken.None
        );
        Assert.Null(result.First);
        Assert.Equal(2, result.Steps);
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["c"] = Part("Saturation", "Unit", ("upper", "5"), ("lower", "-1")) },
        }.AsModel();
        Assert.False(bench.Suits(Unit(model, [])));
    }

    [CompiledFact]
    public void Size_and_stack_are_told()
    {
        using var bench = CodeBench.Build(Limiter(), false, CancellationToken.None);
        var size = bench.Size(CancellationToken.None);
        Assert.InRange(size.Code, 20, 2000);
        Assert.Equal(0, size.Data);
        Assert.InRange(size.Stack, 8, 500);
    }
}
