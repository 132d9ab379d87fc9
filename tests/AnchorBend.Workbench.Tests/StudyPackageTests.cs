using AnchorBend.Exploration.Designs;
using AnchorBend.Workbench.Studies;
using AnchorBend.Workbench.Studies.Engines;

namespace AnchorBend.Workbench.Tests;

/// <summary>What a node of a cluster is given, and what it gives back.</summary>
public sealed class StudyPackageTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-package-").FullName;

    public void Dispose() => Directory.Delete(folder, true);

    static StudyTable Table(string vary) => StudyTable.Of([StudyFactor.Parse(vary)], DesignKind.Grid, 1, 1);

    static StudyPackage Package(int rows, int chunk, string vary = "k=1:5:10") =>
        new("model.mo", ["--vary", vary], rows, chunk, StudyPackage.KeyOf("model", ["--vary", vary], Table(vary)));

    [Theory]
    [InlineData(10, 3, 4, 1)]
    [InlineData(9, 3, 3, 3)]
    [InlineData(1, 50, 1, 1)]
    public void Every_row_is_in_one_task(int rows, int chunk, int tasks, int last)
    {
        var package = Package(rows, chunk);
        Assert.Equal(tasks, package.Chunks);
        Assert.Equal(Enumerable.Range(0, rows), Enumerable.Range(0, tasks).SelectMany(package.RowsOf));
        Assert.Equal(last, package.RowsOf(tasks - 1).Count());
        Assert.Empty(package.RowsOf(tasks));
    }

    [Fact]
    public void A_folder_holds_one_study_and_whole_results_or_none()
    {
        var package = Package(10, 5);
        package.Write(folder, "model");
        package.Write(folder, "model");
        Assert.Equal(package.Key, StudyPackage.Read(folder).Key);
        Assert.Throws<EngineException>(() => Package(10, 5, "k=1:6:10").Write(folder, "model"));
        Assert.Throws<EngineException>(() => StudyPackage.Read(Path.Combine(folder, "log")));

        Assert.Null(StudyPackage.Results(folder, 1));
        File.WriteAllText(Path.Combine(folder, "chunk-1.jsonl.node-7.half"), "{\"index\":5");
        Assert.Null(StudyPackage.Results(folder, 1));
        StudyPackage.Keep(folder, 1, package.RowsOf(1).Select(r => new StudyResult(r, [double.NaN, r], [new(true, 1)], null)));
        Assert.Equal([5, 6, 7, 8, 9], StudyPackage.Results(folder, 1)!.Select(r => r.Index));
        Assert.Equal(6, StudyPackage.Results(folder, 1)![1].Measures[1]);
    }

    [Theory]
    [InlineData("0", 0)]
    [InlineData("0-3", 3, 0, 2, 1)]
    [InlineData("1,3-4,9", 9, 4, 3, 1)]
    public void Tasks_are_named_in_ranges(string ranges, params int[] numbers) => Assert.Equal(ranges, SlurmEngine.Ranges(numbers));
}
