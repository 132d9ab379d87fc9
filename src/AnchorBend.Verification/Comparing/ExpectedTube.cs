using AnchorBend.Modeling.Documents;
using AnchorBend.Verification.Temporal;

namespace AnchorBend.Verification.Comparing;

/// <summary>Where a course left its tube first.</summary>
public sealed record TubeExit(double At, double Actual, double Lower, double Upper);

/// <summary>How a course lies in its tube.</summary>
/// <param name="Margin">The least distance to a limit, negative outside; in the unit of the values.</param>
/// <param name="MarginAt">When, s.</param>
/// <param name="Exit">Where it leaves the tube first; null where it stays inside.</param>
public sealed record TubeOutcome(double Margin, double MarginAt, TubeExit? Exit);

/// <summary>
/// The values that are allowed at each instant about an expected course: v ± (absolute + relative · |v|), and with a tolerance in time all
/// that is allowed so much earlier or later (the tube as a Minkowski sum of the course with a box, exact on straight pieces). Bands say the
/// limits outright and are widened in time alike.
/// </summary>
public sealed class ExpectedTube
{
    readonly Broken lower,
        upper;

    ExpectedTube(Broken lower, Broken upper) => (this.lower, this.upper) = (lower, upper);

    /// <param name="expected">With at least one instant.</param>
    /// <param name="coherent">Brings a value to the unit in which the signal is computed.</param>
    /// <param name="width">Brings the absolute tolerance there, which is a difference of values.</param>
    public static ExpectedTube Of(ExpectedNode expected, Func<double, double> coherent, Func<double, double> width)
    {
        double[] times = [.. expected.Times],
            values = [.. expected.Values.Select(coherent)];
        Broken Line(double[] t, double[] v) => expected.IsHeld ? Broken.Held(t, v) : Broken.Through(t, v);
        var absolute = width(expected.Absolute);
        if (expected.Relative > 0 && !expected.IsHeld)
            (times, values) = WithZeros(times, values);
        double Tolerance(double value) => absolute + expected.Relative * Math.Abs(value);
        var high =
            expected.Upper.Count > 0
                ? Line([.. expected.Times], [.. expected.Upper.Select(coherent)])
                : Line(times, [.. values.Select(v => v + Tolerance(v))]);
        var low =
            expected.Lower.Count > 0
                ? Line([.. expected.Times], [.. expected.Lower.Select(coherent)])
                : Line(times, [.. values.Select(v => v - Tolerance(v))]);
        return new ExpectedTube(Widened(low.Negated(), expected.Time).Negated(), Widened(high, expected.Time));
    }

    public double Start => upper.Start;

    public double End => upper.End;

    /// <summary>Instants and values of both limits, for drawing.</summary>
    public (Curve Lower, Curve Upper) Limits => (Drawn(lower), Drawn(upper));

    /// <summary>How a recorded course lies in the tube, over what both cover.</summary>
    /// <param name="actual">With at least one row.</param>
    /// <returns>Null where they have no instant in common, or a value is missing.</returns>
    public TubeOutcome? Of(Curve actual)
    {
        if (actual.Times.Count == 0 || actual.Values.Any(v => !double.IsFinite(v)))
            return null;
        var line = Broken.Through(actual.Times, actual.Values);
        if (Math.Min(line.End, End) < Math.Max(line.Start, Start))
            return null;
        // Events of two runs are met to rounding only.
        var near = 1e-9 * (line.End - line.Start);
        var over = Broken.Difference(upper, line, near);
        var under = Broken.Difference(line, lower, near);
        var (margin, at) = Least(over);
        var (other, otherAt) = Least(under);
        if (other < margin)
            (margin, at) = (other, otherAt);
        var first = Math.Min(FirstBelow(over), FirstBelow(under));
        return new TubeOutcome(
            margin,
            at,
            double.IsInfinity(first) ? null : new TubeExit(first, line.At(first), lower.At(first), upper.At(first))
        );
    }

    static (double Value, double At) Least(Broken line)
    {
        var (least, at) = (double.PositiveInfinity, line.Start);
        foreach (var p in line.Pieces)
        {
            if (p.Left < least)
                (least, at) = (p.Left, p.From);
            if (p.Right < least)
                (least, at) = (p.Right, p.To);
        }

        return (least, at);
    }

    /// <summary>The first instant from which on the line is below zero; infinite where it never is.</summary>
    static double FirstBelow(Broken line)
    {
        foreach (var p in line.Pieces)
        {
            if (p.Left < 0)
                return p.From;
            if (p.Right < 0)
                return p.From + (p.To - p.From) * (p.Left / (p.Left - p.Right));
        }

        return double.PositiveInfinity;
    }

    /// <summary>Points where the course crosses zero, at which its size bends.</summary>
    static (double[] Times, double[] Values) WithZeros(double[] times, double[] values)
    {
        var (t, v) = (new List<double>(times.Length), new List<double>(times.Length));
        for (var i = 0; i < times.Length; i++)
        {
            if (i > 0 && values[i - 1] * values[i] < 0 && times[i] > times[i - 1])
            {
                t.Add(times[i - 1] + (times[i] - times[i - 1]) * (values[i - 1] / (values[i - 1] - values[i])));
                v.Add(0);
            }

            t.Add(times[i]);
            v.Add(values[i]);
        }

        return ([.. t], [.. v]);
    }

    /// <summary>At each instant the largest value so much before and behind it; at the ends the line goes on as it is there.</summary>
    static Broken Widened(Broken line, double by)
    {
        if (by == 0 || line.End == line.Start)
            return line;
        double first = line.Pieces[0].Left,
            last = line.Pieces[^1].Right;
        Piece[] longer =
        [
            new Piece(line.Start - by, line.Start, first, first),
            .. line.Pieces,
            new Piece(line.End, line.End + by, last, last),
        ];
        var ahead = new Broken(longer).LargestAhead(2 * by);
        return new Broken(Array.ConvertAll(ahead.Pieces, p => p with { From = p.From + by, To = p.To + by }));
    }

    static Curve Drawn(Broken line)
    {
        var (times, values) = (new List<double>(), new List<double>());
        foreach (var p in line.Pieces)
        {
            if (times.Count == 0 || times[^1] != p.From || values[^1] != p.Left)
                (times, values) = (Added(times, p.From), Added(values, p.Left));
            if (p.To > p.From)
                (times, values) = (Added(times, p.To), Added(values, p.Right));
        }

        return new Curve(times, [.. values]);
    }

    static List<double> Added(List<double> list, double value)
    {
        list.Add(value);
        return list;
    }
}
