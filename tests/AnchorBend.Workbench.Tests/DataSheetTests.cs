using System.Numerics;
using AnchorBend.Design.Machines;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Tests;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;

namespace AnchorBend.Workbench.Tests;

/// <summary>Figures of data sheets become parameters of machines.</summary>
public class DataSheetTests
{
    static DataSheetAnswer Answer(string kind, params (string Name, string Text)[] figures) =>
        DataSheets.Answer(kind, figures.ToDictionary(f => f.Name, f => (string?)f.Text));

    static double Value(DataSheetAnswer answer, string parameter) =>
        double.Parse(
            answer.Values.Single(v => v.Parameter == parameter).Text.Split(' ')[0],
            System.Globalization.CultureInfo.InvariantCulture
        );

    [Fact]
    public void Every_machine_with_a_data_sheet_has_the_parameters_that_it_gives()
    {
        var parts = PartCatalog.Standard.Parts.Where(p => p.Traits.DataSheet is not null).ToList();
        Assert.Equal(MachineSheets.All.Keys.Order(), parts.Select(p => p.Traits.DataSheet!).Order());
        foreach (var part in parts)
        {
            var figures = DataSheets.Of(part.Traits.DataSheet!).Figures.ToDictionary(f => f.Name, f => (string?)"10");
            var values = DataSheets.Answer(part.Traits.DataSheet!, figures).Values;
            Assert.NotEmpty(values);
            foreach (var value in values)
            {
                var parameter = part.Parameters.Single(p => p.Name == value.Parameter);
                // The text fits the parameter's field, with its unit.
                Assert.NotNull(TypedValue.Number(value.Text, Language.Units.Unit.Parse(parameter.Unit ?? "1")));
            }
        }
    }

    [Fact]
    public void A_direct_current_machine_follows_from_its_run_without_load()
    {
        // 24 V, 3000 rpm, 0.2 A, 0.5 Ω: (24 − 0.1) V over 314.16 rad/s.
        var answer = Answer("directCurrent", ("U", "24 V"), ("n0", "3000"), ("I0", "200 mA"), ("R", "0.5"), ("Te", "2 ms"));
        Assert.Equal(23.9 / (100 * Math.PI), Value(answer, "k"), 1e-9);
        Assert.Equal(0.001, Value(answer, "L"), 1e-12);
        Assert.All(answer.Values, v => Assert.Null(v.Doubt));
        // A torque constant comes first; what the speed says is told where it differs.
        var other = Answer("directCurrent", ("U", "24"), ("n0", "3000"), ("R", "0.5"), ("kT", "0.1 N.m/A"));
        Assert.Equal(0.1, Value(other, "k"));
        Assert.Contains("0.07639", other.Values.Single(v => v.Parameter == "k").Doubt, StringComparison.Ordinal);
        Assert.Equal(1 / (300 * 2 * Math.PI / 60), Value(Answer("directCurrent", ("kn", "300 rpm/V")), "k"), 1e-9);
    }

    [Fact]
    public void A_machine_from_its_sheet_runs_as_the_sheet_says()
    {
        var answer = Answer("directCurrent", ("U", "24"), ("n0", "3000"), ("I0", "0.2"), ("R", "0.5"), ("L", "1e-3"));
        var set = string.Join(", ", answer.Values.Select(v => $"{v.Parameter} = {v.Text.Split(' ')[0]}"));
        var k = Value(answer, "k");
        // A torque of 0.2 A holds it back: it comes to the speed without load.
        var text = FormattableString.Invariant(
            $"""
            DirectCurrentMachine m({set}); VoltageSource dc(V = 24); Ground g; Inertia j(J = 1e-4); TorqueSource t;
            equation connect(dc.p, m.p); connect(dc.n, m.n); connect(g.p, dc.n); connect(m.shaft, j.a); connect(t.b, j.b); t.u = {-0.2 * k};
            """
        );
        Assert.Equal(100 * Math.PI, TextModel.Values(text, "m.w", [5])[0], 1e-3);
    }

    [Fact]
    public void Between_terminals_lie_two_phases()
    {
        var brushless = Answer("brushless", ("p", "7"), ("R", "0.2 Ohm"), ("L", "100 uH"), ("kn", "100"), ("I0", "0.5"));
        var k = 1 / (2 * 100 * 2 * Math.PI / 60);
        Assert.Equal((7.0, 0.1, 5e-5), (Value(brushless, "pairs"), Value(brushless, "R"), Value(brushless, "L")));
        Assert.Equal((k, 2 * k * 0.5), (Value(brushless, "k"), Value(brushless, "dry")), (a, b) =>
            Math.Abs(a.Item1 - b.Item1) + Math.Abs(a.Item2 - b.Item2) < 1e-9
        );
        // The same machine told in three ways: 4 pole pairs, 0.05 Wb.
        var speed = 4 * 1000 * 2 * Math.PI / 60;
        foreach (
            var (name, figure) in ((string, double)[])
                [("kT", 1.5 * 4 * 0.05 * Math.Sqrt(2)), ("kP", 1.5 * 4 * 0.05), ("E", 0.05 * speed * Math.Sqrt(1.5))]
        )
            Assert.Equal(0.05, Value(Answer("synchronous", ("p", "4"), (name, $"{figure:R}")), "flux"), 1e-9);
        var salient = Answer("synchronous", ("Lmin", "2 mH"), ("Lmax", "5 mH"));
        Assert.Equal((1e-3, 2.5e-3), (Value(salient, "Ld"), Value(salient, "Lq")));
    }

    [Fact]
    public void An_induction_machine_follows_from_its_two_tests()
    {
        var (rs, rr, leak, main, w) = (0.5, 0.4, 2e-3, 0.06, 100 * Math.PI);
        var behind = 1 / (1 / new Complex(rr, w * leak) + 1 / new Complex(0, w * main));
        var held = new Complex(rs, w * leak) + behind;
        var idle = new Complex(rs, w * (leak + main));
        (string, string)[] Test(string mark, Complex z, double current) =>
            [
                ($"U{mark}", $"{Math.Sqrt(3) * current * z.Magnitude:R}"),
                ($"I{mark}", $"{current:R}"),
                ($"P{mark}", $"{3 * current * current * z.Real:R}"),
            ];
        var answer = Answer("induction", [("p", "2"), ("R", "1"), ("f", "50"), .. Test("0", idle, 6), .. Test("k", held, 20)]);
        Assert.Equal(
            [2, rs, rr, leak, leak, main],
            ((string[])["pairs", "Rs", "Rr", "Ls", "Lr", "Lm"]).Select(p => Value(answer, p)),
            (a, b) => Math.Abs(a - b) < 1e-8 * b
        );
        // More power than voltage and current allow is no test of a machine.
        var none = Answer("induction", [("R", "1"), ("f", "50"), .. Test("0", idle, 6), ("Uk", "10"), ("Ik", "1"), ("Pk", "1000")]);
        Assert.Equal(["Rs"], none.Values.Select(v => v.Parameter));
        Assert.Contains("fit no machine", none.Values[0].Doubt, StringComparison.Ordinal);
    }

    [Fact]
    public void A_figure_that_cannot_be_read_is_told_and_left_out()
    {
        var answer = Answer("directCurrent", ("R", "0.5 V"), ("kT", "-1"), ("L", "1 mH"), ("n0", ""));
        Assert.Equal(["R", "kT"], answer.Problems.Keys.Order());
        Assert.Contains("no number greater than zero in Ohm", answer.Problems["R"], StringComparison.Ordinal);
        Assert.Equal(["L"], answer.Values.Select(v => v.Parameter));
        Assert.Contains("whole number", Answer("brushless", ("p", "2.5")).Problems["p"], StringComparison.Ordinal);
        Assert.Throws<NotFoundException>(() => DataSheets.Of("toaster"));
    }
}
