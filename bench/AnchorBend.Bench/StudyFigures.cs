using System.Diagnostics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Exploration.Designs;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Studies;

namespace AnchorBend.Bench;

/// <summary>What a study costs against its runs one by one: a thousand runs of the winch, on all processors.</summary>
static class StudyFigures
{
    const int Runs = 1000,
        Alone = 60,
        Repeats = 3;

    public static void Print()
    {
        var source = ModelSource.OfDocument(File.ReadAllText("examples/plankton-winch.json"));
        var document = source.Document!;
        var options = DocumentRun.OptionsOf(document);
        List<StudyMeasure> measures = [.. document.Measures.Values.Select(m => new StudyMeasure(m.Name, m.Expression))];
        var factor = StudyFactor.Parse($"net_m=80 kg:140 kg:{Runs}");
        var table = StudyTable.Of([factor], DesignKind.Grid, 1, 1);
        var prepared = source.Prepare();

        // A run by itself: the model is there, its values are set, nothing is measured.
        double One(int row)
        {
            var watch = Stopwatch.StartNew();
            var changed = ValueChange.Apply(prepared, [("net_m", table.Rows[row][0].Text)])!;
            using var session = new RunSession(changed, new ParameterSet(changed.Model), options);
            session.Advance(new PauseAt(), default);
            using var trace = session.Result().Trace;
            return watch.Elapsed.TotalSeconds;
        }

        for (var i = 0; i < Alone; i++)
            One(i);
        var alone = Enumerable
            .Range(0, Repeats)
            .Select(_ => Enumerable.Range(0, Alone).Average(i => One(i * Runs / Alone)))
            .Order()
            .ElementAt(Repeats / 2);
        foreach (var jobs in new[] { 1, Environment.ProcessorCount }.Distinct())
        {
            var whole = Enumerable
                .Range(0, Repeats)
                .Select(_ =>
                {
                    var study = new StudyRun(source, new Dictionary<string, string>(), table, measures, _ => options);
                    var watch = Stopwatch.StartNew();
                    study.Run(Enumerable.Range(0, Runs), jobs, _ => { }, default);
                    return watch.Elapsed.TotalSeconds;
                })
                .Order()
                .ElementAt(Repeats / 2);
            Console.WriteLine(
                $"  {Runs} runs, {jobs} at once: {whole:F2} s, {Runs / whole:F0} a second; {alone * Runs / jobs / whole:F2} of the pace of one run of {1000 * alone:F1} ms"
            );
        }
    }
}
