namespace AnchorBend.Verification.Measures;

/// <summary>
/// A signal within a window of one or more stretches. Between rows it goes in straight lines, at equal times it jumps, so integrals are
/// exact for what was recorded: the trapezoidal rule, and (a² + ab + b²)/3 for squares (the integral of a squared line).
/// </summary>
sealed class WindowedCurve
{
    /// <summary>One curve a stretch, none of them empty.</summary>
    readonly List<Curve> pieces;

    readonly double length;

    WindowedCurve(List<Curve> pieces, double length) => (this.pieces, this.length) = (pieces, length);

    /// <exception cref="MeasureException">Nothing was recorded in the window.</exception>
    public static WindowedCurve Of(Curve curve, IReadOnlyList<Interval> window)
    {
        var pieces = new List<Curve>();
        foreach (var stretch in window)
        {
            var piece = curve.Window(stretch.From, stretch.To);
            if (piece.Values.Length == 0)
                piece = curve.At(stretch.From) is { } value && double.IsFinite(value) ? new Curve([stretch.From], [value]) : piece;
            if (piece.Values.Length > 0)
                pieces.Add(piece);
        }

        return pieces.Count > 0
            ? new WindowedCurve(pieces, window.Sum(i => i.Length))
            : throw new MeasureException("The window holds nothing of the run.");
    }

    public (double Time, double Value) Minimum() => pieces.Select(p => p.Minimum()).MinBy(e => e.Value);

    public (double Time, double Value) Maximum() => pieces.Select(p => p.Maximum()).MaxBy(e => e.Value);

    public (double Time, double Value) First() => (pieces[0].Times[0], pieces[0].Values[0]);

    public (double Time, double Value) Last() => (pieces[^1].Times[^1], pieces[^1].Values[^1]);

    public double Integral() => Sum((a, b) => (a + b) / 2);

    /// <summary>Over one instant the value there.</summary>
    public double Mean() => length > 0 ? Integral() / length : First().Value;

    public double RootMeanSquare() => length > 0 ? Math.Sqrt(Sum((a, b) => (a * a + a * b + b * b) / 3) / length) : Math.Abs(First().Value);

    double Sum(Func<double, double, double> mean)
    {
        var sum = 0.0;
        foreach (var piece in pieces)
            for (var i = 1; i < piece.Values.Length; i++)
                sum += (piece.Times[i] - piece.Times[i - 1]) * mean(piece.Values[i - 1], piece.Values[i]);
        return sum;
    }

    /// <summary>All instants at which a level is crossed: where the sign of the difference changes. A touch is no crossing; what stays
    /// on the level crosses when it leaves to the other side.</summary>
    /// <param name="direction">1 upwards, −1 downwards, 0 both.</param>
    public IEnumerable<double> Crossings(double level, int direction)
    {
        foreach (var piece in pieces)
        {
            var side = 0;
            for (var i = 0; i < piece.Values.Length; i++)
            {
                var difference = piece.Values[i] - level;
                var now = Math.Sign(difference);
                if (now == 0)
                    continue;
                if (side == -now && (direction == 0 || direction == now))
                {
                    var before = piece.Values[i - 1] - level;
                    yield return piece.Times[i - 1] + (piece.Times[i] - piece.Times[i - 1]) * (before / (before - difference));
                }

                side = now;
            }
        }
    }

    /// <summary>The only piece, for what has a meaning over one stretch only.</summary>
    /// <exception cref="MeasureException">There are several.</exception>
    public Curve Single(string function) =>
        pieces.Count == 1
            ? pieces[0]
            : throw new MeasureException(
                $"{function} looks at one stretch of time, but the condition holds in {pieces.Count}. Choose one with from and to."
            );
}

/// <summary>A measure that this run does not decide; the message says why.</summary>
public sealed class MeasureException(string message) : Exception(message);
