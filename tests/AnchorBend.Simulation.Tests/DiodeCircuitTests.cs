using System.Globalization;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Rectifiers and converters with values drawn by lot: every switching settles, and a tight run says the same as a loose
/// one.</summary>
public class DiodeCircuitTests
{
    static string N(double value) => value.ToString("R", CultureInfo.InvariantCulture);

    static string Half(Random random) =>
        $$"""
            SineVoltage source(V = {{N(random.Next(1, 400))}}, fr = {{N(random.Next(1, 60))}}, phase = {{N(random.NextDouble())}});
            Resistor winding(R = {{N(Math.Pow(10, random.NextDouble() * 3 - 2))}});
            Diode diode({{Diode(random)}});
            Capacitor c(C = {{N(Math.Pow(10, random.NextDouble() * 3 - 5))}});
            Resistor load(R = {{N(Math.Pow(10, random.NextDouble() * 3))}}); Ground ground; VoltageSensor at;
            equation connect(source.p, winding.p); connect(winding.n, diode.p); connect(diode.n, c.p); connect(c.n, source.n); connect(load.p, c.p); connect(load.n, source.n);
            connect(ground.p, source.n); connect(at.p, c.p); connect(at.n, c.n);
            """;

    static string Bridge(Random random)
    {
        var diode = Diode(random);
        return $$"""
            SineVoltage source(V = {{N(random.Next(1, 400))}}, fr = {{N(random.Next(1, 60))}}, phase = {{N(random.NextDouble())}});
            Resistor winding(R = {{N(Math.Pow(10, random.NextDouble() * 3 - 2))}});
            Diode d1({{diode}}), d2({{diode}}), d3({{diode}}), d4({{diode}});
            Capacitor c(C = {{N(Math.Pow(10, random.NextDouble() * 3 - 5))}}, v0 = {{random.Next(0, 2)}});
            Resistor load(R = {{N(Math.Pow(10, random.NextDouble() * 3))}}); Ground ground; VoltageSensor at;
            equation connect(source.p, winding.p); connect(winding.n, d1.p); connect(d1.n, c.p); connect(d2.p, source.n); connect(d2.n, c.p);
            connect(c.n, d3.p); connect(d3.n, winding.n); connect(c.n, d4.p); connect(d4.n, source.n); connect(load.p, c.p); connect(load.n, c.n);
            connect(ground.p, c.n); connect(at.p, c.p); connect(at.n, c.n);
            """;
    }

    /// <summary>A voltage chopped by a switch, with a diode for the current that goes on, an inductor, a capacitor and a load.</summary>
    static string Buck(Random random, double period) =>
        $$"""
            BooleanPulse pulses(period = {{N(period)}}, width = {{N(
                0.1 + 0.8 * random.NextDouble()
            )}}); VoltageSource source(V = {{random.Next(5, 100)}});
            ElectricalSwitch chopper(Ron = {{N(Math.Pow(10, random.NextDouble() * 3 - 4))}}); Diode diode({{Diode(random)}});
            Inductor l(L = {{N(Math.Pow(10, random.NextDouble() * 2 - 4))}}); Capacitor c(C = {{N(
                Math.Pow(10, random.NextDouble() * 3 - 6)
            )}});
            Resistor load(R = {{N(Math.Pow(10, random.NextDouble() * 2.5))}}); Ground ground; VoltageSensor at;
            equation connect(pulses.y, chopper.closed); connect(source.p, chopper.p); connect(chopper.n, l.p); connect(diode.n, l.p); connect(diode.p, source.n);
            connect(l.n, c.p); connect(c.n, source.n); connect(load.p, c.p); connect(load.n, source.n); connect(ground.p, source.n); connect(at.p, c.p); connect(at.n, c.n);
            """;

    static string Diode(Random random) =>
        $"Vknee = {(random.Next(3) == 0 ? "0" : "0.7")}, Ron = {N(Math.Pow(10, random.NextDouble() * 3 - 4))}, Goff = {N(Math.Pow(10, random.NextDouble() * 4 - 10))}";

    [Theory]
    [InlineData("half wave")]
    [InlineData("bridge")]
    [InlineData("converter")]
    public void Circuits_settle_at_every_switching(string kind)
    {
        // The last ones once switched to and fro on the rounding of a current.
        foreach (var seed in Enumerable.Range(0, 60).Concat([63, 94, 986]))
        {
            var random = new Random(seed);
            var end = kind == "converter" ? 30 * Math.Pow(10, random.NextDouble() * 1.5 - 4) : 0.2;
            var prepared = TextModel.Prepare(
                kind switch
                {
                    "bridge" => Bridge(random),
                    "converter" => Buck(random, end / 30),
                    _ => Half(random),
                }
            );
            Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings));
            var place = prepared.Compiled!.Plan.RepresentativeOf("at.y");
            double Last(double tolerance)
            {
                var result = TextModel.Run(
                    prepared,
                    new RunOptions
                    {
                        End = end,
                        OutputTimes = [end],
                        RelativeTolerance = tolerance,
                        AbsoluteTolerance = tolerance,
                    }
                );
                Assert.True(result.Failure is null, $"{kind} {seed}: {result.Failure?.Message}");
                return result.Trace[result.Trace.Rows - 1, place];
            }

            var (loose, tight) = (Last(1e-5), Last(1e-8));
            Assert.True(Math.Abs(loose - tight) <= 1e-4 * (1 + Math.Abs(tight)), $"{kind} {seed}: {loose} and {tight}");
        }
    }
}
