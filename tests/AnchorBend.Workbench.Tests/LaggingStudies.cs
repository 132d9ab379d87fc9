using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Studies;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Studies of a lag behind a step: after a second it is at k·h·(1 − e^(−1/T)).</summary>
public abstract class LaggingStudies : IDisposable
{
    private protected Bench bench = new();

    public void Dispose()
    {
        bench.Studies.Dispose();
        bench.RunStore.Dispose();
        GC.SuppressFinalize(this);
    }

    /// <summary>What is done with studies beside running them.</summary>
    private protected StudyWork Work => new(bench.Runs, bench.StudyStore);

    protected static ModelDocument Lagging(StudyNode study) =>
        new DiagramDefinition
        {
            Name = "Basin",
            Parts = new()
            {
                ["s"] = Part("Step", "Inflow", ("height", "2"), ("startTime", "0")),
                ["l"] = Part("Lag", "Level", ("k", "4"), ("T", "1 s")),
            },
            Wires = new() { ["w"] = Wire("s.y", "l.u") },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "1 s", Live = false },
            Measures = new()
            {
                ["m"] = new MeasureNode { Name = "Last", Expression = "final(Level.y)" },
            },
            Requirements = new()
            {
                ["q"] = new RequirementNode
                {
                    Name = "Not over 6",
                    Signal = "l.y",
                    Limit = "6",
                },
            },
            Studies = new() { ["t"] = study },
        };

    protected static StudyNode Study(params (string Target, string Values)[] factors) =>
        new()
        {
            Name = "Levels",
            Factors = factors
                .Select((f, i) => (f, i))
                .ToDictionary(
                    f => $"f{f.i}",
                    f => new StudyFactorNode
                    {
                        Target = f.f.Target,
                        Values = f.f.Values,
                        Order = f.i,
                    }
                ),
        };

    protected static double Last(double k, double height, double time) => k * height * (1 - Math.Exp(-1 / time));

    protected StudyJob Begun(ModelDocument document) =>
        bench.Studies.Find(bench.Studies.Start(bench.Models.Session(bench.Create(document)), "t", default).Id);

    protected static StudyJob Ended(StudyJob job, StudyState state = StudyState.Finished)
    {
        Assert.True(SpinWait.SpinUntil(() => job.View().State == state && job.View().Running == 0, 30_000), $"{job.View()}");
        return job;
    }
}
