using System.Globalization;
using System.Text;
using AnchorBend.Design;
using AnchorBend.Design.Stores;
using AnchorBend.Modeling.Documents;
using AnchorBend.Tests;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Parts;

namespace AnchorBend.Workbench.Tests;

/// <summary>Measured pulse tests become tables of cells.</summary>
public class PulseTestTests
{
    const double Capacity = 36_000;

    static double Rest(double charge) => 3.2 + 0.8 * charge + 0.1 * charge * charge;

    /// <summary>A cell of R0 = 8 mΩ, 4 mΩ with 15 s and 6 mΩ with 300 s from its exact solution: six pulses of 10 A over 300 s, each with an
    /// hour of rest, in samples of a second while something happens and of ten seconds after.</summary>
    /// <param name="sign">1 where a positive current charges.</param>
    static (double[] Time, double[] Current, double[] Voltage) Test(int sign = 1, double noise = 0)
    {
        var (time, current, voltage) = (new List<double>(), new List<double>(), new List<double>());
        var random = new Random(7);
        double[] r = [4e-3, 6e-3],
            tau = [15, 300],
            v = [0, 0];
        var (charge, now) = (0.95, 0.0);
        void Stretch(double amperes, int samples, double step)
        {
            for (var k = 0; k < samples; k++)
            {
                time.Add(now);
                current.Add(sign * amperes);
                voltage.Add(Rest(charge) + 8e-3 * amperes + v.Sum() + noise * (random.NextDouble() - 0.5));
                for (var j = 0; j < 2; j++)
                    v[j] = r[j] * amperes + (v[j] - r[j] * amperes) * Math.Exp(-step / tau[j]);
                charge += amperes * step / Capacity;
                now += step;
            }
        }

        Stretch(0, 20, 1);
        for (var pulse = 0; pulse < 6; pulse++)
        {
            Stretch(-10, 300, 1);
            Stretch(0, 100, 1);
            Stretch(0, 350, 10);
        }

        return ([.. time], [.. current], [.. voltage]);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(-1)]
    public void The_circuit_behind_a_test_is_found_whichever_way_current_counts(int sign)
    {
        var (time, current, voltage) = Test(sign);
        var fit = PulseTest.Fit(time, current, voltage, Capacity, 0.95, 2);
        // What the pulse before has left after an hour, e⁻¹² of 60 mV, is the largest error.
        Assert.Equal([15, 300], fit.TimeConstants, (a, b) => Math.Abs(a - b) < 1e-3 * b);
        Assert.Equal(6, fit.Points.Count);
        foreach (var (k, point) in fit.Points.Index())
        {
            Assert.Equal(0.95 - (6 - k) * 3000 / Capacity, point.Charge, 1e-9);
            Assert.Equal(Rest(point.Charge), point.Rest, 2e-6);
            // While the last second of the pulse passes, the voltage at rest falls by slope times charge; it goes to the series resistance.
            Assert.Equal(8e-3, point.Series, 1e-4);
            Assert.Equal(4e-3, point.Branches[0], 4e-6);
            Assert.Equal(6e-3, point.Branches[1], 6e-6);
        }

        Assert.True(fit.Worst < 1e-6);
    }

    [Fact]
    public void Noise_of_a_millivolt_moves_what_is_found_by_little()
    {
        var (time, current, voltage) = Test(noise: 1e-3);
        var fit = PulseTest.Fit(time, current, voltage, Capacity, 0.95, 2);
        Assert.Equal(300, fit.TimeConstants[1], 15.0);
        Assert.All(fit.Points, p => Assert.Equal(6e-3, p.Branches[1], 3e-4));
        // The root of a uniform noise of 1 mV is 1/√12 of it.
        Assert.Equal(1e-3 / Math.Sqrt(12), fit.Worst, 5e-5);
    }

    [Theory]
    [InlineData(4)]
    [InlineData(5)]
    [InlineData(6)]
    [InlineData(7)]
    [InlineData(8)]
    [InlineData(9)]
    [InlineData(10)]
    public void Voltages_with_few_decimals_settle_as_well(int decimals)
    {
        var (time, current, voltage) = Test();
        var fit = PulseTest.Fit(time, current, [.. voltage.Select(v => Math.Round(v, decimals))], Capacity, 0.95, 2);
        // A step of the last decimal against the 38 mV that relax; a thousand samples share it.
        var known = 1e-3 + Math.Pow(10, -decimals) / 38e-3;
        Assert.Equal([15, 300], fit.TimeConstants, (a, b) => Math.Abs(a - b) < known * b);
    }

    [Fact]
    public void What_makes_a_fit_less_sure_is_told()
    {
        var (time, current, voltage) = Test();
        Assert.Empty(PulseTest.Fit(time, current, voltage, Capacity, 0.95, 2).Doubts);
        // Rests of ten minutes: two time constants of the slow branch.
        var kept = Enumerable.Range(0, time.Length).Where(k => k < 20 || (k - 20) % 750 < 450).ToArray();
        double shift = 0,
            last = 0;
        var shorter = kept.Select(k =>
        {
            shift += time[k] - last > 20 ? time[k] - last - 10 : 0;
            last = time[k];
            return time[k] - shift;
        });
        var fit = PulseTest.Fit([.. shorter], [.. kept.Select(k => current[k])], [.. kept.Select(k => voltage[k])], Capacity, 0.95, 2);
        Assert.Contains("had not settled", Assert.Single(fit.Doubts), StringComparison.Ordinal);
        current[200] *= 1.2;
        Assert.Contains("20 %", PulseTest.Fit(time, current, voltage, Capacity, 0.95, 2).Doubts[^1], StringComparison.Ordinal);
    }

    static string Table(string current = "current [A]")
    {
        var (time, i, v) = Test();
        var text = new StringBuilder($"time [s],{current},voltage [mV]\n");
        for (var k = 0; k < time.Length; k++)
            text.Append(CultureInfo.InvariantCulture, $"{time[k]:R},{i[k]:R},{1000 * v[k]:R}\n");
        return text.ToString();
    }

    static readonly PulseTests Tests = new(new ComputeGate());

    static PulseTestAnswer Fit(string text, string capacity = "36000 C", int branches = 2, double start = 0.95) =>
        Tests.Fit(new PulseTestOrder(text, capacity, start, branches, "25 degC"), CancellationToken.None);

    [Fact]
    public void A_cell_with_the_fitted_tables_answers_as_the_measured_one()
    {
        var answer = Fit(Table());
        var set = string.Join(", ", answer.Parameters.Where(p => p.Key != "branches").Select(p => $"{p.Key} = {p.Value}"));
        // One ampere out of a rested cell, by the exact solution of the measured one.
        var charge = answer.Points[3].Charge;
        var text = FormattableString.Invariant(
            $"""
            StoreCell c(Q = 36000, branches = 2, soc0 = {charge:R}, {set}); CurrentSource s(I = 1); Ground g;
            equation connect(s.p, c.p); connect(s.n, c.n); connect(g.p, c.n);
            """
        );
        var values = TextModel.Values(text, "c.v", [0, 20]);
        var fall = 4e-3 * -double.ExpM1(-20.0 / 15) + 6e-3 * -double.ExpM1(-20.0 / 300);
        Assert.Equal(Rest(charge) - 8e-3, values[0], 1e-4);
        // Between two points of the table the voltage at rest is straight, and 20 s move the charge by 20 C.
        Assert.Equal(-fall - (0.8 + 0.2 * charge) * 20 / Capacity, values[1] - values[0], 2e-5);
    }

    [Theory]
    [InlineData("two columns", "2 columns that could be the current")]
    [InlineData("no current", "0 columns that could be the current")]
    [InlineData("no pulse", "No pulse with a rest")]
    [InlineData("capacity", "capacity cannot be read")]
    [InlineData("branches", "one to 3 branches")]
    [InlineData("start", "between 0 and 1")]
    [InlineData("small", "outside of 0 to 1")]
    public void What_is_no_pulse_test_is_refused_with_the_reason(string how, string says)
    {
        var refused = Assert.Throws<DesignException>(() =>
            how switch
            {
                "two columns" => Fit(Table().Replace("voltage [mV]", "other [A]", StringComparison.Ordinal)),
                "no current" => Fit(Table("current [K]")),
                "no pulse" => Fit("time [s],i [A],u [V]\n0,0,3\n1,0,3\n2,0,3\n"),
                "capacity" => Fit(Table(), "20 V"),
                "branches" => Fit(Table(), branches: 4),
                "small" => Fit(Table(), "5000 C"),
                _ => Fit(Table(), start: 2),
            }
        );
        Assert.Contains(says, refused.Message, StringComparison.Ordinal);
        Assert.NotEmpty(refused.Advice);
    }

    [Fact]
    public void What_is_no_table_is_refused() => Assert.Throws<DocumentException>(() => Fit("nothing of the kind"));
}
