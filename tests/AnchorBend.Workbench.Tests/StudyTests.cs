using System.Globalization;
using AnchorBend.Exploration;
using AnchorBend.Exploration.Designs;
using AnchorBend.Exploration.Factors;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Studies;

namespace AnchorBend.Workbench.Tests;

public sealed class StudyTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-study-").FullName;

    public void Dispose() => Directory.Delete(folder, true);

    [Theory]
    [InlineData("net.m = 80 kg:140 kg:7", "80 kg", "140 kg", 7)]
    [InlineData("net.m=80:140:7", "80", "140", 7)]
    [InlineData("l=1:100:3log", "1", "100", 3)]
    [InlineData("l=1 m:200 cm:2", "1 m", "2 m", 2)]
    [InlineData("T=-5:5 s:2", "-5 s", "5 s", 2)]
    public void Ranges_are_read_with_their_units(string text, string first, string last, int count)
    {
        var factor = StudyFactor.Parse(text);
        var levels = factor.Spread.Levels!;
        Assert.Equal(count, levels.Count);
        Assert.Equal(first, factor.TextOf(levels[0]));
        Assert.Equal(last, factor.TextOf(levels[^1]));
    }

    [Fact]
    public void Lists_keep_their_texts_as_they_are_typed()
    {
        var factor = StudyFactor.Parse("valve.alternative = \"Spool, long\", {1, 2}, 4*sqrt(x)");
        Assert.Equal(["\"Spool, long\"", "{1, 2}", "4*sqrt(x)"], factor.Spread.Levels!.Select(factor.TextOf));
        Assert.Null(StudyFactor.Parse("a=1:2").Spread.Levels);
    }

    [Theory]
    [InlineData("k=0.9 kN/m ± 10 %", "kN/m", 0.81, 0.99)]
    [InlineData("k=0.9 kN/m +- 100 N/m", "kN/m", 0.8, 1.0)]
    [InlineData("k=± 10 %", "kg", 180, 220)]
    [InlineData("k=± 500 g normal", "kg", 199.5, 200.5)]
    [InlineData("k=triangular(1 m, 2 m, 400 cm)", "m", 1, 4)]
    [InlineData("k=uniform(-1, 1)", "", -1, 1)]
    [InlineData("k=normal(5 s, 1 s, 3 s, 6 s)", "s", 3, 6)]
    public void Tolerances_and_distributions_are_read_with_their_units(string text, string unit, double low, double high)
    {
        var factor = StudyFactor.Parse(text, _ => "200 kg");
        Assert.True(factor.IsDrawn);
        Assert.Equal(unit, factor.Unit);
        Assert.Equal(low, factor.Spread.At(0).Number!.Value, 1e-9);
        Assert.Equal(high, factor.Spread.At(Math.BitDecrement(1.0)).Number!.Value, 1e-6);
    }

    [Theory]
    [InlineData("random")]
    [InlineData("latin")]
    [InlineData("sobol")]
    public void Tolerances_vary_in_every_row_of_a_drawn_design(string kind)
    {
        DesignKind of = kind switch
        {
            "random" => DesignKind.Random,
            "latin" => DesignKind.LatinHypercube,
            _ => DesignKind.Sobol,
        };
        var table = StudyTable.Of([StudyFactor.Parse("k=1:2"), StudyFactor.Parse("m=5 ± 10 %")], of, 20, 1, 1);
        Assert.Equal(20, table.Rows.Count);
        Assert.Equal(20, table.Rows.Select(r => r[1].Number).Distinct().Count());
    }

    [Fact]
    public void A_width_on_a_scale_with_another_zero_is_a_difference()
    {
        Assert.Equal(295, StudyFactor.Parse("T=300 K ± 5 degC").Spread.At(0).Number!.Value, 1e-9);
        Assert.Equal(15, StudyFactor.Parse("T=20 degC ± 5 K").Spread.At(0).Number!.Value, 1e-9);
    }

    [Fact]
    public void A_unit_behind_the_last_of_a_list_is_meant_for_all()
    {
        var factor = StudyFactor.Parse("c=60, 70, 80 kg/m");
        Assert.Equal(["60 kg/m", "70 kg/m", "80 kg/m"], factor.Texts);
        Assert.Equal([60, 70, 80], factor.Numbers!);
        Assert.Equal("1/s", StudyFactor.Parse("k=0.4 1/s:2.5 1/s").Unit);
        Assert.Equal(7, StudyFactor.Parse("m=80…140 kg in 7 steps").Spread.Levels!.Count);
        Assert.Null(StudyFactor.Parse("y=4*sqrt(x), 2*x").Numbers);
    }

    [Theory]
    [InlineData("nothing")]
    [InlineData("a=")]
    [InlineData("a=1:2:3:4")]
    [InlineData("a=1:x:3")]
    [InlineData("a=1:2:many")]
    [InlineData("a=1 kg:2 s:3")]
    [InlineData("a=± 10 %")]
    [InlineData("a=5 ± 0 %")]
    [InlineData("a=normal(1)")]
    public void What_cannot_be_read_is_refused(string text) => Assert.Throws<ExplorationException>(() => StudyFactor.Parse(text));

    /// <summary>A lag from 1 to zero: after t it is e^(−t/T), and k times that.</summary>
    const string Lag =
        "model M parameter Real T(unit = \"s\") = 1; parameter Real k = 1; parameter Boolean twice = false; Real x(start = 1); Real y; "
        + "equation T * der(x) = -x; y = if twice then 2 * k * x else k * x; assert(k < 9, \"too much\"); end M;";

    static StudyRun Study(params string[] vary)
    {
        List<StudyFactor> factors = [.. vary.Select(v => StudyFactor.Parse(v))];
        return new StudyRun(
            ModelSource.OfText(Lag),
            new Dictionary<string, string>(),
            StudyTable.Of(factors, DesignKind.Grid, 0, 0),
            [new("last", "final(y)"), new("most", "maximum(y)")],
            _ => new RunOptions { End = 2 }
        );
    }

    static StudyResult[] Results(StudyRun study, int rows, int jobs)
    {
        var results = new StudyResult[rows];
        study.Run(Enumerable.Range(0, rows), jobs, r => results[r.Index] = r, default);
        return results;
    }

    [Fact]
    public void Each_row_gives_what_its_values_say_however_many_run_at_once()
    {
        var study = Study("T=500 ms:2 s:4", "twice=false,true");
        var one = Results(study, 8, 1);
        for (var i = 0; i < 8; i++)
        {
            var (time, factor) = (0.5 + i / 2 * 0.5, i % 2 == 0 ? 1 : 2);
            Assert.Equal(factor * Math.Exp(-2 / time), one[i].Measures[0]!.Value, 1e-5);
            Assert.Equal(factor, one[i].Measures[1]!.Value, 1e-9);
            Assert.Null(one[i].Problem);
        }

        Assert.Equal(["1500", "true"], study.Table.Rows[5].Select(c => c.Number?.ToString(CultureInfo.InvariantCulture) ?? c.Text));
        var many = Results(Study("T=500 ms:2 s:4", "twice=false,true"), 8, 4);
        Assert.Equal(one.Select(r => string.Join(' ', r.Measures)), many.Select(r => string.Join(' ', r.Measures)));
    }

    [Fact]
    public void A_row_that_fails_says_why_and_the_rest_goes_on()
    {
        var results = Results(Study("k=1,10,nonsense,2"), 4, 2);
        Assert.Contains("too much", results[1].Problem, StringComparison.Ordinal);
        Assert.NotNull(results[2].Problem);
        Assert.Equal(2, results[3].Measures[1]!.Value, 1e-9);
    }

    [Fact]
    public void A_journal_goes_on_after_a_break_in_the_middle_of_a_line()
    {
        var path = Path.Combine(folder, "results.jsonl");
        using (var journal = new StudyJournal(path, "study"))
        {
            Assert.Empty(journal.Earlier);
            journal.Add(new StudyResult(0, [1.5, null], [], null));
            journal.Add(new StudyResult(3, [double.PositiveInfinity, 2], [new(true, 1.5), new(null, null)], "why"));
        }

        File.AppendAllText(path, "{\"index\":7,\"meas");
        using (var journal = new StudyJournal(path, "study"))
        {
            Assert.Equal([0, 3], journal.Earlier.Keys.Order());
            Assert.Equal([1.5, null], journal.Earlier[0].Measures);
            Assert.Equal(double.PositiveInfinity, journal.Earlier[3].Measures[0]);
            Assert.Equal([new(true, 1.5), new(null, null)], journal.Earlier[3].Verdicts);
            journal.Add(new StudyResult(7, [1, 1], [], null));
        }

        using (var journal = new StudyJournal(path, "study"))
            Assert.Equal([0, 3, 7], journal.Earlier.Keys.Order());
        Assert.Throws<InvalidDataException>(() => new StudyJournal(path, "another study"));
    }
}
