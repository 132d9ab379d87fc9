namespace AnchorBend.Delivery.Targets;

/// <summary>
/// What a target was given and gave of late, from which another unit finds the state to go on from without a bump: it is fed what came in,
/// and then what it integrates and remembers is fitted so that it would have given the same outputs over the last steps.
/// </summary>
sealed class TakeOver(OutsideProcess process, int inputs, int outputs, TakeOver.RowOf row)
{
    public delegate void RowOf(int unit, ReadOnlySpan<double> all, Span<double> own);

    /// <summary>Steps that are looked back at; steps by which a unit is fed before anything is fitted, so that what it estimates
    /// settles; and steps over which its outputs are fitted, again and again up to now (an estimate over a moving horizon).</summary>
    const int Kept = 500,
        Free = 150,
        Fitted = 10;

    readonly Queue<(double[] Given, double[] Made)> before = [];
    (double[] Given, double[] Made)? present;
    readonly Dictionary<int, int> sizes = [];

    public bool IsLast(ReadOnlySpan<double> given) => present is { } now && now.Given.AsSpan().SequenceEqual(given);

    public void Add(ReadOnlySpan<double> given, ReadOnlySpan<double> made)
    {
        if (present is { } earlier)
        {
            before.Enqueue(earlier);
            if (before.Count > Kept)
                before.Dequeue();
        }

        present = (given.ToArray(), made.ToArray());
    }

    /// <summary>Takes the last step back, which is made anew.</summary>
    public void Withdraw() => present = null;

    /// <summary>Largest value of an output of late.</summary>
    public double SizeOf(int output) => Steps().Select(s => Math.Abs(s.Made[output])).DefaultIfEmpty(0).Max();

    IEnumerable<(double[] Given, double[] Made)> Steps() => present is { } now ? before.Append(now) : before;

    /// <summary>Has a unit stand where it would have come by itself with the same outputs.</summary>
    /// <param name="values">That it is given at each step.</param>
    public void Into(int unit, int values)
    {
        var steps = Steps().ToList();
        var start = new double[values];
        row(unit, steps.Count > 0 ? steps[0].Given : new double[inputs], start);
        process.Ask('b').With(unit).With(start).AnswerInteger();
        if (steps.Count == 0)
            return;
        var begun = States(unit);
        // The last piece ends with the last step.
        var free = Math.Max(0, Math.Min(Free, steps.Count - Fitted));
        free += (steps.Count - free) % Fitted;
        _ = Run(unit, values, steps.Take(free));
        var weights = new double[Fitted * outputs];
        for (var i = 0; i < weights.Length; i++)
            weights[i] = SizeOf(i % outputs) is > 0 and var size ? 1 / size : 1;
        foreach (var piece in steps.Skip(free).Chunk(Fitted))
        {
            var (from, states) = (Snapshot(unit), States(unit));
            double[] wanted = [.. piece.SelectMany(s => s.Made)];
            double[] LeadsTo(double[] at) => Led(unit, values, from, at, piece);
            var sizes = states.Select((s, i) => Math.Max(Math.Abs(s), Math.Abs(begun[i])) is > 0 and var size ? size : 1).ToArray();
            var best = (Values: states, Left: double.PositiveInfinity);
            foreach (var at in Starts(states, begun, LeadsTo, wanted, weights))
                if (best.Left > Good && StateFit.Of(LeadsTo, wanted, weights, at, sizes) is var fit && fit.Left < best.Left)
                    best = fit;
            _ = LeadsTo(best.Values);
        }
    }

    /// <summary>Sum of squares of relative differences over a piece that asks for no other start; values of which all combinations are
    /// looked at; and how many of those are tried.</summary>
    const double Good = 1e-8;

    const int Combined = 8,
        Tried = 4;

    /// <summary>
    /// Where a fit may begin. Where an estimate has run away, an output at its limit says nothing of any value; so each is also taken as it
    /// was at the very start, in all combinations, and the nearest come first.
    /// </summary>
    static IEnumerable<double[]> Starts(
        double[] states,
        double[] begun,
        Func<double[], double[]> leadsTo,
        double[] wanted,
        double[] weights
    )
    {
        yield return states;
        var combinations = 1 << Math.Min(states.Length, Combined);
        var others = Enumerable
            .Range(1, combinations - 1)
            .Select(c => states.Select((s, i) => i < Combined && (c >> i & 1) != 0 ? begun[i] : s).ToArray())
            .Select(at => (At: at, Apart: Apart(leadsTo(at), wanted, weights)))
            .OrderBy(o => o.Apart)
            .Take(Tried);
        foreach (var (at, _) in others)
            yield return at;
    }

    static double Apart(double[] made, double[] wanted, double[] weights)
    {
        var sum = 0.0;
        for (var i = 0; i < wanted.Length; i++)
            sum += Math.Pow((made[i] - wanted[i]) * weights[i], 2);
        return double.IsFinite(sum) ? sum : double.MaxValue;
    }

    double[] Led(int unit, int values, byte[] from, double[] states, IEnumerable<(double[] Given, double[] Made)> steps)
    {
        // Many states ask for many trials: whoever stops the run stops them too.
        Language.WorkBudget.Current.Check();
        GoBack(unit, from);
        process.Ask('w').With(unit).With(states).AnswerInteger();
        return Run(unit, values, steps);
    }

    double[] States(int unit)
    {
        var states = new double[StateCount(unit)];
        process.Ask('x').With(unit).Answer(states);
        return states;
    }

    readonly Dictionary<int, int> counts = [];

    int StateCount(int unit)
    {
        if (!counts.TryGetValue(unit, out var count))
            counts[unit] = count = process.Ask('n').With(unit).AnswerInteger();
        return count;
    }

    /// <summary>A piece of steps at most at once, so that neither side waits for the other with a full pipe.</summary>
    const int Piece = 16;

    double[] Run(int unit, int values, IEnumerable<(double[] Given, double[] Made)> steps)
    {
        var made = new List<double>();
        foreach (var piece in steps.Chunk(Piece))
        {
            var given = new double[piece.Length * values];
            for (var i = 0; i < piece.Length; i++)
                row(unit, piece[i].Given, given.AsSpan(i * values, values));
            var answer = new double[piece.Length * outputs];
            process.Ask('r').With(unit).With(piece.Length).With(given).Answer(answer);
            made.AddRange(answer);
        }

        return [.. made];
    }

    /// <summary>Bytes of a unit's state.</summary>
    public int SizeOfState(int unit)
    {
        if (!sizes.TryGetValue(unit, out var size))
            sizes[unit] = size = process.Ask('z').With(unit).AnswerInteger();
        return size;
    }

    /// <summary>A unit's state as it is, and as it was before its last step.</summary>
    public byte[] Snapshot(int unit)
    {
        var bytes = new byte[2 * SizeOfState(unit)];
        process.Ask('g').With(unit).Answer(bytes);
        return bytes;
    }

    public void GoBack(int unit, byte[] snapshot) => process.Ask('p').With(unit).With(snapshot).AnswerInteger();
}
