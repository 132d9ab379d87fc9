using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Studies;
using AnchorBend.Workbench.Studies.Engines;

namespace AnchorBend.Workbench.Tests;

/// <summary>Studies whose rows something else than this machine's workers runs.</summary>
public sealed class StudyClusterTests : LaggingStudies
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-tasks-").FullName;

    /// <summary>Runs the tasks of a package as a node would: from what stands in the folder alone.</summary>
    sealed class Nodes(string folder) : StudyCluster(folder, ["nothing"])
    {
        /// <summary>Tasks after which the manager refuses.</summary>
        public int RefusesAfter { get; set; } = int.MaxValue;

        public List<int> Ran { get; } = [];

        protected override IStudyEngine EngineOf(StudyPackage package, string own, Action<string> said) =>
            new Engine(this, package, own, said);

        sealed class Engine(Nodes nodes, StudyPackage package, string own, Action<string> said) : IStudyEngine
        {
            public void Run(IReadOnlyList<int> rows, Action<StudyResult> done, CancellationToken cancellation)
            {
                said($"{package.Chunks} tasks");
                var document = ModelDocument.FromJson(File.ReadAllText(Path.Combine(own, package.Model)));
                Assert.Equal("--study", package.Arguments[0]);
                var run = StudySetup.Of(ModelSource.OfDocument(document.ToJson()), document.Studies[package.Arguments[1]]).Run;
                foreach (var row in rows)
                {
                    cancellation.ThrowIfCancellationRequested();
                    if (nodes.Ran.Count >= nodes.RefusesAfter)
                        throw new EngineException("The manager takes no job.");
                    nodes.Ran.Add(row);
                    done(run.Of(row, run.Table.Rows[row], cancellation));
                }
            }
        }
    }

    StudyJob Begun(Nodes nodes, StudyNode study)
    {
        bench.Studies.Dispose();
        bench = new Bench(cluster: nodes);
        var session = bench.Models.Session(bench.Create(Lagging(study)));
        return bench.Studies.Find(bench.Studies.Start(session, "t", default, true).Id);
    }

    [Fact]
    public void A_cluster_runs_every_row_once_with_the_same_results()
    {
        var study = Study(("l.k", "1:9:40"));
        var here = Ended(Begun(Lagging(study))).ResultsSince(0).Rows.OrderBy(r => r.Row).ToList();
        var nodes = new Nodes(folder);
        var job = Ended(Begun(nodes, study));
        var there = job.ResultsSince(0).Rows.OrderBy(r => r.Row).ToList();
        Assert.Equal(Enumerable.Range(0, 40), nodes.Ran.Order());
        Assert.Equal(here.Select(r => r.Measures[0]), there.Select(r => r.Measures[0]));
        Assert.True(job.View().IsOnCluster);
    }

    [Fact]
    public void Where_the_cluster_refuses_a_study_waits_says_why_and_goes_on_here()
    {
        var nodes = new Nodes(folder) { RefusesAfter = 11 };
        var job = Ended(Begun(nodes, Study(("l.k", "1:9:40"))), StudyState.Paused);
        Assert.True(SpinWait.SpinUntil(() => job.View().Said == "The manager takes no job.", 5000));
        Assert.Equal(11, job.View().Done);
        bench.Studies.Put(job.Id, StudyState.Running, true);
        Ended(job);
        Assert.Equal((40, 11, false), (job.View().Done, nodes.Ran.Count, job.View().IsOnCluster));
    }

    [Fact]
    public void A_server_without_a_cluster_and_a_search_are_refused()
    {
        var document = Lagging(Study(("l.k", "1:9")) with { Search = new StudySearchNode { Goal = "final(Level.y)" } });
        var session = bench.Models.Session(bench.Create(document));
        Assert.Contains("no cluster", Refused(), StringComparison.Ordinal);
        bench.Studies.Dispose();
        bench = new Bench(cluster: new Nodes(folder));
        session = bench.Models.Session(bench.Create(document));
        Assert.Contains("A search runs on this machine", Refused(), StringComparison.Ordinal);

        string Refused() => Assert.Throws<DocumentException>(() => bench.Studies.Start(session, "t", default, true)).Message;
    }
}
