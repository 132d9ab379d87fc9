using AnchorBend.Verification.Temporal;
using CsCheck;

namespace AnchorBend.Verification.Tests;

/// <summary>Broken lines against what many samples of them show.</summary>
public class BrokenLineTests
{
    const int End = 8;

    /// <summary>Lines over 0…8 with joints and jumps at whole times, so that samples at eighths meet all of them.</summary>
    static readonly Gen<Broken> Lines = Gen.Select(Gen.Int[-4, 4].Array[2 * End], Gen.Bool.Array[End])
        .Select(
            (values, jumps) =>
            {
                var (times, line) = (new List<double>(), new List<double>());
                for (var t = 0; t <= End; t++)
                {
                    times.Add(t);
                    line.Add(values[t]);
                    if (t is > 0 and < End && jumps[t])
                    {
                        times.Add(t);
                        line.Add(values[End + t]);
                    }
                }

                return Broken.Through(times, line);
            }
        );

    /// <summary>Values on both sides of an instant.</summary>
    static IEnumerable<double> Sides(Broken line, double t) =>
        line.Pieces.Where(p => p.From <= t && p.To >= t).SelectMany(p => (double[])[p.At(t)]);

    static double Largest(Broken line, double from, double to) =>
        Enumerable.Range(0, 8 * End + 1).Select(i => i / 8.0).Where(t => t >= from && t <= to).SelectMany(t => Sides(line, t)).Max();

    static IEnumerable<double> Instants => Enumerable.Range(0, 16 * End).Select(i => i / 16.0 + 1 / 32.0);

    [Fact]
    public void The_larger_of_two_lines_is_so_at_every_instant() =>
        Gen.Select(Lines, Lines)
            .Sample(
                (a, b) =>
                {
                    var larger = Broken.Largest(a, b);
                    foreach (var t in Instants)
                        Assert.Equal(Math.Max(a.At(t), b.At(t)), larger.At(t), 1e-9);
                    Assert.Equal((0.0, (double)End), (larger.Start, larger.End));
                    for (var i = 1; i < larger.Pieces.Length; i++)
                        Assert.Equal(larger.Pieces[i - 1].To, larger.Pieces[i].From);
                },
                iter: 300
            );

    [Fact]
    public void The_largest_value_ahead_is_that_of_the_stretch() =>
        Gen.Select(Lines, Gen.Int[1, 5])
            .Sample(
                (line, quarters) =>
                {
                    var ahead = quarters * 0.5;
                    var found = line.LargestAhead(ahead);
                    foreach (var t in Instants.Where(t => t + ahead <= End))
                    {
                        // Between samples the line is straight: the ends of the stretch and the joints in it hold its largest value.
                        var wanted = Math.Max(Largest(line, t, t + ahead), Math.Max(line.At(t), line.At(t + ahead)));
                        Assert.Equal(wanted, found.At(t), 1e-9);
                    }
                },
                iter: 300
            );

    [Fact]
    public void The_largest_value_of_the_rest_falls_and_is_that_of_the_rest() =>
        Lines.Sample(
            line =>
            {
                var rest = line.LargestAhead(double.PositiveInfinity);
                foreach (var t in Instants)
                    Assert.Equal(Math.Max(line.At(t), Largest(line, t, End)), rest.At(t), 1e-9);
            },
            iter: 300
        );

    [Fact]
    public void What_holds_until_something_else_does_is_as_by_its_definition() =>
        Gen.Select(Lines, Lines)
            .Sample(
                (hold, reach) =>
                {
                    var found = hold.HoldsUntil(reach);
                    // All joints of both lines and their crossings, and points between them: nothing is larger elsewhere.
                    double[] turns =
                    [
                        .. Broken
                            .Largest(hold, reach)
                            .Pieces.SelectMany(p => (double[])[p.From, p.To])
                            .Concat(Instants)
                            .Concat(Enumerable.Range(0, End + 1).Select(i => (double)i))
                            .Distinct()
                            .Order(),
                    ];
                    foreach (var t in Instants.Where((_, i) => i % 7 == 0))
                    {
                        var (best, least) = (double.NegativeInfinity, double.PositiveInfinity);
                        foreach (var s in turns.Where(s => s >= t))
                        {
                            // At a jump the left sides come first.
                            var (holds, reaches) = (
                                s == t ? [hold.At(t)] : Sides(hold, s).ToArray(),
                                s == t ? [reach.At(t)] : Sides(reach, s).ToArray()
                            );
                            least = Math.Min(least, holds[0]);
                            best = Math.Max(best, Math.Min(least, reaches[0]));
                            least = Math.Min(least, holds[^1]);
                            best = Math.Max(best, Math.Min(least, reaches[^1]));
                        }

                        // Between turns a falling line and a rising one may meet where no turn is; lines of whole joints move by 8 a second.
                        Assert.InRange(found.At(t) - best, -1e-9, 8 / 32.0);
                    }
                },
                iter: 200
            );

    [Fact]
    public void Stretches_that_hold_begin_and_end_where_the_line_passes_zero()
    {
        var line = Broken.Through([0, 1, 2, 2, 3, 4], [-1, 1, 1, -1, -1, 1]);
        Assert.Equal([(0.5, 2.0), (3.5, 4.0)], line.Holds());
        Assert.Empty(Broken.Constant(0, 3, double.NegativeInfinity).Holds());
        Assert.Equal([(0.0, 3.0)], Broken.Constant(0, 3, double.PositiveInfinity).Holds());
    }
}
