using AnchorBend.Language;

namespace AnchorBend.Verification.Temporal;

/// <summary>One straight piece of a broken line; an infinite piece has one value.</summary>
readonly record struct Piece(double From, double To, double Left, double Right)
{
    public double At(double t) =>
        Left == Right || To == From ? Left
        : t <= From ? Left
        : t >= To ? Right
        : Left + (Right - Left) * ((t - From) / (To - From));

    public Piece Cut(double from, double to) => new(from, to, At(from), At(to));
}

/// <summary>
/// A margin over time: straight pieces one behind another without gaps, which may jump where they meet. Both sides of a jump count for
/// least and largest values over a stretch, as both sides of an event are values of the run; at an instant the right one is meant.
/// </summary>
sealed class Broken(Piece[] pieces)
{
    public Piece[] Pieces { get; } = pieces;

    public double Start => Pieces[0].From;

    public double End => Pieces[^1].To;

    public static Broken Constant(double from, double to, double value) => new([new Piece(from, to, value, value)]);

    /// <summary>The line through rows; equal neighbouring times are a jump.</summary>
    public static Broken Through(IReadOnlyList<double> times, IReadOnlyList<double> values)
    {
        var pieces = new List<Piece>();
        for (var i = 0; i + 1 < times.Count; i++)
            if (times[i + 1] > times[i])
                pieces.Add(new Piece(times[i], times[i + 1], values[i], values[i + 1]));
        // The last row may be the other side of an event.
        if (pieces.Count > 0 && values[^1] != pieces[^1].Right)
            pieces.Add(new Piece(times[^1], times[^1], values[^1], values[^1]));
        return pieces.Count > 0 ? new Broken([.. pieces]) : Constant(times[0], times[0], values[^1]);
    }

    /// <summary>Rows that keep their value until the next one.</summary>
    public static Broken Held(IReadOnlyList<double> times, IReadOnlyList<double> values)
    {
        var pieces = new List<Piece>();
        for (var i = 0; i + 1 < times.Count; i++)
            if (times[i + 1] > times[i])
                Add(pieces, new Piece(times[i], times[i + 1], values[i], values[i]));
        Add(pieces, new Piece(times[^1], times[^1], values[^1], values[^1]));
        return new Broken([.. pieces]);
    }

    /// <summary>Adds a piece; one that goes on straight lengthens the last.</summary>
    static void Add(List<Piece> pieces, Piece next)
    {
        if (pieces.Count > 0 && pieces[^1] is var last && last.Left == last.Right && next.Left == next.Right && last.Left == next.Left)
            pieces[^1] = last with { To = next.To };
        else if (next.To > next.From || pieces.Count == 0 || next.Left != pieces[^1].Right)
            pieces.Add(next);
    }

    /// <summary>The piece at an instant: behind a jump there.</summary>
    int IndexAt(double t)
    {
        int low = 0,
            high = Pieces.Length - 1;
        while (low < high)
        {
            var middle = (low + high + 1) >>> 1;
            if (Pieces[middle].From <= t)
                low = middle;
            else
                high = middle - 1;
        }

        return low;
    }

    public double At(double t) => Pieces[IndexAt(t)].At(t);

    public Broken Negated() => new(Array.ConvertAll(Pieces, p => new Piece(p.From, p.To, -p.Left, -p.Right)));

    public static Broken Least(Broken a, Broken b) => Largest(a.Negated(), b.Negated()).Negated();

    /// <summary>The larger of two lines; where they cross, the result bends.</summary>
    public static Broken Largest(Broken a, Broken b)
    {
        var pieces = new List<Piece>();
        for (int i = 0, k = 0; i < a.Pieces.Length && k < b.Pieces.Length; )
        {
            var (one, other) = (a.Pieces[i], b.Pieces[k]);
            var (from, to) = (Math.Max(one.From, other.From), Math.Min(one.To, other.To));
            if (from <= to)
                AddLargest(pieces, one.Cut(from, to), other.Cut(from, to));
            var (firstEnds, secondEnds) = (one.To <= other.To, other.To <= one.To);
            // At one end of both a piece of no length may still follow on either side.
            i += firstEnds ? 1 : 0;
            k += secondEnds ? 1 : 0;
            if (i == a.Pieces.Length && k < b.Pieces.Length)
                i--;
            else if (k == b.Pieces.Length && i < a.Pieces.Length)
                k--;
            else
                continue;
            if (a.Pieces[i].To < b.Pieces[k].From || b.Pieces[k].To < a.Pieces[i].From)
                break;
        }

        return new Broken([.. pieces]);
    }

    /// <summary>a − b over the stretches that both cover; those shorter than <paramref name="near"/> count for nothing, so that left sides
    /// of jumps meet left ones, and right sides right ones.</summary>
    public static Broken Difference(Broken a, Broken b, double near)
    {
        var pieces = new List<Piece>();
        for (int i = 0, k = 0; i < a.Pieces.Length && k < b.Pieces.Length; )
        {
            var (one, other) = (a.Pieces[i], b.Pieces[k]);
            var (from, to) = (Math.Max(one.From, other.From), Math.Min(one.To, other.To));
            if (to - from > near)
                pieces.Add(new Piece(from, to, one.At(from) - other.At(from), one.At(to) - other.At(to)));
            if (one.To <= other.To)
                i++;
            else
                k++;
        }

        if (pieces.Count > 0)
            return new Broken([.. pieces]);
        var at = Math.Max(a.Start, b.Start);
        return Constant(at, at, a.At(at) - b.At(at));
    }

    static void AddLargest(List<Piece> pieces, Piece a, Piece b)
    {
        var cross = Crossing(a, b);
        if (double.IsNaN(cross))
        {
            Add(pieces, a with { Left = Math.Max(a.Left, b.Left), Right = Math.Max(a.Right, b.Right) });
            return;
        }

        var at = a.At(cross);
        Add(pieces, new Piece(a.From, cross, Math.Max(a.Left, b.Left), at));
        Add(pieces, new Piece(cross, a.To, at, Math.Max(a.Right, b.Right)));
    }

    /// <summary>The same line, gone on with one value up to a later end.</summary>
    public Broken Until(double end, double value) => end > End ? new Broken([.. Pieces, new Piece(End, end, value, value)]) : this;

    /// <summary>
    /// The largest value from an instant on until so much later (D. Lemire, "Streaming maximum-minimum filter", Nordic J. of Computing 13,
    /// 2006, on pieces instead of samples: between the instants at which an end of the stretch passes a joint, the result is the largest of
    /// the line at both ends and of a number).
    /// </summary>
    /// <param name="ahead">Length of the stretch; infinite for all the rest of the line.</param>
    public Broken LargestAhead(double ahead)
    {
        if (double.IsInfinity(ahead))
            return LargestOfRest();
        var end = End - ahead;
        if (end < Start)
            throw new ArgumentOutOfRangeException(nameof(ahead), "The line is shorter than the stretch.");
        if (end == Start)
            return Constant(end, end, LargestIn(end, End));
        var result = new List<Piece>(2 * Pieces.Length);
        // Values at joints inside of the stretch, both sides: places behind each other, of which larger ones push out those before.
        var queue = new LinkedList<(double At, double Value)>();
        var (near, far, next, turn) = (0, IndexAt(ahead + Start), 0, 0);
        for (var from = Start; from < end; )
        {
            if ((turn++ & 0xFFF) == 0)
                WorkBudget.Current.Check();
            while (near + 1 < Pieces.Length && Pieces[near].To <= from)
                near++;
            while (far + 1 < Pieces.Length && Pieces[far].To - ahead <= from)
                far++;
            var to = Math.Min(end, Math.Min(Pieces[near].To, Pieces[far].To - ahead));
            if (!(to > from))
                to = Math.Min(end, Math.BitIncrement(from));
            // A joint that a turn was made from must not fall out by rounding.
            var reach = from + ahead + 1e-12 * (Math.Abs(from) + ahead);
            for (; next < Pieces.Length && Pieces[next].From <= reach; next++)
            {
                Push(Pieces[next].From, Pieces[next].Left);
                if (Pieces[next].To > reach)
                    break;
                Push(Pieces[next].To, Pieces[next].Right);
            }

            while (queue.First is { } first && first.Value.At < to)
                queue.RemoveFirst();
            var inside = queue.First?.Value.Value ?? double.NegativeInfinity;
            var distant = Pieces[far].Cut(from + ahead, to + ahead) with { From = from, To = to };
            AddLargest(result, Pieces[near].Cut(from, to), distant, inside);
            from = to;
        }

        return new Broken([.. result]);

        void Push(double at, double value)
        {
            while (queue.Last is { } last && last.Value.Value <= value)
                queue.RemoveLast();
            queue.AddLast((at, value));
        }
    }

    /// <summary>Adds the largest of two pieces over one stretch and of a number.</summary>
    static void AddLargest(List<Piece> pieces, Piece a, Piece b, double level)
    {
        var cross = Crossing(a, b);
        if (double.IsNaN(cross))
        {
            AddLargest(
                pieces,
                a with
                {
                    Left = Math.Max(a.Left, b.Left),
                    Right = Math.Max(a.Right, b.Right),
                },
                a with
                {
                    Left = level,
                    Right = level,
                }
            );
            return;
        }

        var at = a.At(cross);
        AddLargest(pieces, new Piece(a.From, cross, Math.Max(a.Left, b.Left), at), new Piece(a.From, cross, level, level));
        AddLargest(pieces, new Piece(cross, a.To, at, Math.Max(a.Right, b.Right)), new Piece(cross, a.To, level, level));
    }

    /// <summary>Where two pieces over one stretch cross inside of it; NaN where they do not.</summary>
    static double Crossing(Piece a, Piece b)
    {
        double left = a.Left - b.Left,
            right = a.Right - b.Right;
        return double.IsFinite(left) && double.IsFinite(right) && a.To > a.From && (left < 0 && right > 0 || left > 0 && right < 0)
            ? a.From + (a.To - a.From) * (left / (left - right))
            : double.NaN;
    }

    /// <summary>The piece that an open stretch without joints lies in.</summary>
    int Within(double from, double to) => IndexAt((from + to) / 2);

    double LargestIn(double from, double to)
    {
        var largest = double.NegativeInfinity;
        foreach (var piece in Pieces.Where(p => p.To >= from && p.From <= to))
            largest = Math.Max(largest, Math.Max(piece.At(Math.Max(from, piece.From)), piece.At(Math.Min(to, piece.To))));
        return largest;
    }

    Broken LargestOfRest()
    {
        var behind = double.NegativeInfinity;
        var (back, parts) = (new List<Piece>(Pieces.Length), new List<Piece>(2));
        for (var i = Pieces.Length - 1; i >= 0; i--)
        {
            var piece = Pieces[i];
            behind = Math.Max(behind, piece.Right);
            parts.Clear();
            AddLargest(parts, piece, piece with { Left = behind, Right = behind });
            for (var k = parts.Count - 1; k >= 0; k--)
                back.Add(parts[k]);
            behind = Math.Max(behind, piece.Left);
        }

        back.Reverse();
        return new Broken([.. back]);
    }

    /// <summary>
    /// How well this line holds until another does, within the line (A. Donzé, Th. Ferrère, O. Maler, "Efficient robust monitoring for
    /// STL", CAV 2013, from the end backwards).
    /// </summary>
    public Broken HoldsUntil(Broken other)
    {
        // Pieces of one course: no joint of either, no crossing.
        double[] cuts =
        [
            .. Largest(this, other).Pieces.Concat(Pieces).Concat(other.Pieces).SelectMany(p => (double[])[p.From, p.To]).Distinct().Order(),
        ];
        var back = new List<Piece>();
        var behind = Math.Min(Pieces[^1].Right, other.Pieces[^1].Right);
        if (cuts.Length == 1)
            return Constant(cuts[0], cuts[0], behind);
        for (var i = cuts.Length - 2; i >= 0; i--)
        {
            if ((i & 0xFFF) == 0)
                WorkBudget.Current.Check();
            var (from, to) = (cuts[i], cuts[i + 1]);
            Broken hold = new([Pieces[Within(from, to)].Cut(from, to)]),
                reach = new([other.Pieces[other.Within(from, to)].Cut(from, to)]);
            var (p, q) = (hold.Pieces[0], reach.Pieces[0]);
            Broken Level(double value) => Constant(from, to, value);
            // A rising line holds least at its beginning, a falling one where the other is reached.
            var here =
                p.Right >= p.Left
                    ? Least(hold, Largest(reach, Level(q.Right)))
                    : Largest(Least(hold, reach), Level(Math.Min(p.Right, q.Right)));
            var later = Least(Least(hold, Level(p.Right)), Level(behind));
            var whole = Largest(here, later).Pieces;
            for (var k = whole.Length - 1; k >= 0; k--)
                back.Add(whole[k]);
            // What begins at a joint may be reached from its left side too.
            behind = whole[0].Left;
        }

        back.Reverse();
        return new Broken([.. back]);
    }

    /// <summary>An instant of a stretch at which the line has its largest value there.</summary>
    public double WhereLargest(double from, double to)
    {
        var (best, at) = (double.NegativeInfinity, from);
        foreach (var piece in Pieces)
        {
            if (piece.To < from || piece.From > to)
                continue;
            foreach (var t in (double[])[Math.Max(from, piece.From), Math.Min(to, piece.To)])
                if (piece.At(t) > best)
                    (best, at) = (piece.At(t), t);
        }

        return at;
    }

    /// <summary>Stretches in which the line is not below zero.</summary>
    public IEnumerable<(double From, double To)> Holds()
    {
        (double From, double To)? open = null;
        foreach (var p in Pieces)
        {
            if (!(p.Left >= 0 || p.Right >= 0))
            {
                if (open is { } done)
                    yield return done;
                open = null;
                continue;
            }

            var zero = p.Left >= 0 == p.Right >= 0 ? 0 : p.From + (p.To - p.From) * (p.Left / (p.Left - p.Right));
            var (from, to) = (p.Left >= 0 ? p.From : zero, p.Right >= 0 ? p.To : zero);
            if (open is { } before && from <= before.To)
                open = (before.From, to);
            else
            {
                if (open is { } done)
                    yield return done;
                open = (from, to);
            }

            if (p.Right < 0)
            {
                yield return open.Value;
                open = null;
            }
        }

        if (open is { } last)
            yield return last;
    }
}
