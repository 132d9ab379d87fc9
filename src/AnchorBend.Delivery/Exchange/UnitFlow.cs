using System.Runtime.InteropServices;
using AnchorBend.Language.Terms;
using AnchorBend.Simulation;

namespace AnchorBend.Delivery.Exchange;

/// <summary>
/// An instance of an exchange unit for model exchange in a process of its own: the equations of a run integrate its states and find its
/// events (Functional Mock-up Interface 2.0.4, section 3, and 3.0.1, section 3). A point is parameters, inputs, then states; a value is a
/// slope, an output or an indicator, in this order.
/// </summary>
sealed class UnitFlow : IOutsideFlow, IDisposable
{
    readonly UnitDescription description;
    readonly UnitFlowDescription flow;
    readonly UnitInstance unit;
    readonly UnitVariable[] parameters,
        inputs,
        outputs;
    readonly int states,
        first;

    /// <summary>Time and point of what is known.</summary>
    readonly double[] lookedAt,
        values,
        slopesAt,
        decidedAt;
    readonly double[] slopes;
    readonly double[] begun,
        after,
        given;
    double[] begunWith = [];
    double begunAt;
    double next = double.PositiveInfinity;
    long events;

    public UnitFlow(UnitDescription description, UnitInstance unit)
    {
        (this.description, flow, this.unit) = (description, description.Flow!, unit);
        parameters = [.. description.Of(UnitRole.Parameter)];
        inputs = [.. description.Of(UnitRole.Input)];
        outputs = [.. description.Of(UnitRole.Output)];
        states = flow.States.Count;
        first = parameters.Length + inputs.Length;
        Point = [.. parameters.Concat(inputs).Select(i => i.Start ?? 0), .. new double[states]];
        given = [.. inputs.Select(i => i.Start ?? double.NaN)];
        (lookedAt, slopesAt, decidedAt) = (Unknown(), Unknown(), Unknown());
        values = new double[states + outputs.Length + flow.Indicators];
        (begun, after) = (new double[states], new double[states]);
        slopes = new double[(Point.Length + 1) * (states + outputs.Length + flow.Indicators)];
        double[] Unknown()
        {
            var at = new double[1 + Point.Length];
            Array.Fill(at, double.NaN);
            return at;
        }
    }

    public double[] Point { get; }

    public double Begin(double time, int state)
    {
        Begun(time);
        return begun[state];
    }

    Span<double> Own => Point.AsSpan(0, parameters.Length);

    /// <summary>It begins when it is first asked, and anew where it is asked for the start with other parameters.</summary>
    void Begun(double time)
    {
        if (events > 0 && Own.SequenceEqual(begunWith))
            return;
        if (events > 1 || events == 1 && time > begunAt)
        {
            Change(time);
            return;
        }

        Initialize(time, false);
        after.CopyTo(begun.AsSpan());
    }

    /// <param name="hasInputs">Whether it is known by now what its inputs are.</param>
    void Initialize(double time, bool hasInputs)
    {
        if (events > 0)
            unit.Reset();
        (begunWith, begunAt, events) = (Own.ToArray(), time, 1);
        unit.Time = time;
        Forget();
        for (var i = 0; i < inputs.Length; i++)
            given[i] = inputs[i].Start ?? double.NaN;
        Set(i => !begunWith[i].Equals(parameters[i].Start ?? double.NaN));
        if (hasInputs)
            Give(_ => true);
        unit.Initialize(time);
        Decided();
    }

    void Set(Func<int, bool> which)
    {
        var set = Enumerable.Range(0, parameters.Length).Where(which).ToList();
        unit.Set([.. set.Select(i => parameters[i])], [.. set.Select(i => Point[i])]);
    }

    /// <summary>Parameters that change while it runs are given at an event.</summary>
    void Change(double time)
    {
        var before = begunWith;
        for (var i = 0; i < parameters.Length; i++)
            if (!Point[i].Equals(before[i]) && !parameters[i].IsTunable)
                throw unit.Failed($"its parameter {parameters[i].Name} cannot change while it runs");
        var expected = next;
        begunWith = Own.ToArray();
        EnterEvent(time);
        Set(i => !Point[i].Equals(before[i]));
        Decided();
        Forget();
        // The equations take over states and instants at events of their own only.
        if (!next.Equals(expected) || !after.AsSpan().SequenceEqual(Point.AsSpan(first)))
            throw unit.Failed("it sets its states or its next event anew when a parameter changes, which is not taken over while it runs");
    }

    void Forget()
    {
        foreach (var known in new[] { lookedAt, slopesAt, decidedAt })
            Array.Fill(known, double.NaN);
    }

    /// <summary>What an event has come to.</summary>
    void Decided()
    {
        unit.Process.Ask('v').With(states).With(0);
        unit.Hear();
        var answer = new double[1 + states];
        unit.Process.Answer(answer.AsSpan());
        next = answer[0];
        answer.AsSpan(1).CopyTo(after);
        unit.Moved();
        // The equations look for it after now: one that is not later would never come.
        if (!(next > unit.Time))
            throw unit.Failed(FormattableString.Invariant($"its next event at {next:G8} s is not later than {unit.Time:G8} s"));
    }

    /// <summary>Hands on inputs that are other ones than before.</summary>
    void Give(Func<UnitVariable, bool> which)
    {
        var changed = Enumerable
            .Range(0, inputs.Length)
            .Where(i => which(inputs[i]) && !Point[parameters.Length + i].Equals(given[i]))
            .ToList();
        if (changed.Count == 0)
            return;
        unit.Set([.. changed.Select(i => inputs[i])], [.. changed.Select(i => Point[parameters.Length + i])]);
        foreach (var i in changed)
            given[i] = Point[parameters.Length + i];
    }

    bool IsAt(double[] known, double time) => known[0] == time && known.AsSpan(1).SequenceEqual(Point);

    void Note(double[] known, double time)
    {
        known[0] = time;
        Point.CopyTo(known.AsSpan(1));
    }

    void Look(double time, Span<double> into)
    {
        unit.Time = time;
        Give(i => i.IsReal);
        unit.Process.Ask('f').With(states).With(flow.Indicators).With([time]).With(Point.AsSpan(first));
        unit.Hear();
        var made = new double[states + flow.Indicators];
        unit.Process.Answer(made.AsSpan());
        made.AsSpan(0, states).CopyTo(into);
        unit.Get(outputs, into.Slice(states, outputs.Length));
        made.AsSpan(states).CopyTo(into[(states + outputs.Length)..]);
    }

    public double Value(double time, int place)
    {
        Begun(time);
        if (!IsAt(lookedAt, time))
        {
            Look(time, values);
            Note(lookedAt, time);
        }

        return values[place];
    }

    public double Slope(double time, int place, int by)
    {
        if (!IsAt(slopesAt, time))
        {
            Slopes(time);
            Note(slopesAt, time);
        }

        return slopes[(by + 1) * values.Length + place];
    }

    /// <summary>
    /// Forward differences (Dennis and Schnabel: Numerical Methods for Unconstrained Optimization and Nonlinear Equations, section 5.4),
    /// and the unit's own slopes where it tells them.
    /// </summary>
    void Slopes(double time)
    {
        _ = Value(time, 0);
        var there = new double[values.Length];
        for (var by = -1; by < Point.Length; by++)
        {
            var column = slopes.AsSpan((by + 1) * values.Length, values.Length);
            column.Clear();
            if (!IsSmooth(by) || by >= 0 && flow is { HasSlopes: true, Indicators: 0 })
                continue;
            var at = by < 0 ? time : Point[by];
            var size = by >= first ? flow.States[by - first].Nominal : 1;
            var moved = at + Nudge * Math.Max(Math.Abs(at), size);
            if (by >= 0)
                Point[by] = moved;
            Look(by < 0 ? moved : time, there);
            if (by >= 0)
                Point[by] = at;
            for (var i = 0; i < column.Length; i++)
                column[i] = (there[i] - values[i]) / (moved - at);
        }

        if (flow.HasSlopes)
            Tell(time, there);
    }

    /// <summary>The root of what a number of 64 bits rounds by.</summary>
    const double Nudge = 1.4901161193847656e-8;

    bool IsSmooth(int by) => by < 0 || by >= first || by >= parameters.Length && inputs[by - parameters.Length].IsReal;

    /// <summary>Slopes as the unit tells them: of derivatives of states and of real outputs.</summary>
    void Tell(double time, double[] unused)
    {
        List<int> of = [.. Enumerable.Range(0, states + outputs.Length).Where(v => v < states || outputs[v - states].IsReal)],
            by = [.. Enumerable.Range(0, Point.Length).Where(IsSmooth)];
        if (of.Count == 0 || by.Count == 0)
            return;
        // It stands where it was looked at last.
        Look(time, unused);
        unit.Process.Ask('j').With(by.Count).With(of.Count);
        foreach (var i in by)
            unit.Process.With((int)(i < first ? inputs[i - parameters.Length].Reference : flow.States[i - first].Reference));
        foreach (var v in of)
            unit.Process.With((int)(v < states ? flow.States[v].Slope : outputs[v - states].Reference));
        unit.Hear();
        var matrix = new double[by.Count * of.Count];
        unit.Process.Answer(matrix.AsSpan());
        for (var c = 0; c < by.Count; c++)
        for (var r = 0; r < of.Count; r++)
            slopes[(by[c] + 1) * values.Length + of[r]] = matrix[c * of.Count + r];
    }

    public double Event(double time)
    {
        Begun(time);
        if (IsAt(decidedAt, time))
            return events;
        // While the start is looked for it begins anew with what it is given, as decisions before do not count.
        if (time == begunAt)
            Initialize(time, true);
        if (time > begunAt || !after.AsSpan().SequenceEqual(Point.AsSpan(first)))
        {
            EnterEvent(time);
            Give(i => !i.IsReal);
            Decided();
        }

        Forget();
        Note(decidedAt, time);
        return ++events;
    }

    void EnterEvent(double time)
    {
        unit.Time = time;
        Give(i => i.IsReal);
        unit.Process.Ask('E').With(states).With(0).With([time]).With(Point.AsSpan(first));
        unit.Hear();
    }

    public double After(int what) => what < 0 ? Math.Min(next, Never) : after[what];

    /// <summary>Where no event is known; a number, so that it can be compared.</summary>
    const double Never = 1e300;

    public byte[] Save()
    {
        using var stream = new MemoryStream();
        using var writer = new BinaryWriter(stream);
        writer.Write(unit.Mark);
        writer.Write(events);
        writer.Write(next);
        writer.Write(begunAt);
        foreach (var list in new[] { begunWith, begun, after, Point })
        {
            writer.Write(list.Length);
            writer.Write(MemoryMarshal.AsBytes(list.AsSpan()));
        }

        var state = description.CanSave && events > 0 ? unit.Save() : [];
        writer.Write(unit.Time);
        writer.Write(state.Length);
        writer.Write(state);
        return stream.ToArray();
    }

    public void Restore(byte[] state)
    {
        using var reader = new BinaryReader(new MemoryStream(state));
        var (mark, then, when, from) = (reader.ReadInt64(), reader.ReadInt64(), reader.ReadDouble(), reader.ReadDouble());
        double[] List()
        {
            var list = new double[reader.ReadInt32()];
            reader.BaseStream.ReadExactly(MemoryMarshal.AsBytes(list.AsSpan()));
            return list;
        }

        var (with, started, afterwards, point) = (List(), List(), List(), List());
        var time = reader.ReadDouble();
        var bytes = reader.ReadBytes(reader.ReadInt32());
        // Between events it depends on the point alone.
        if (then == 0)
        {
            if (events > 0)
                unit.Reset();
        }
        else if (mark != unit.Mark)
        {
            if (!description.CanSave)
                throw unit.NotSaved();
            if (events == 0)
            {
                with.CopyTo(Own);
                Begun(time);
            }

            unit.Restore(bytes);
        }

        unit.Mark = mark;
        (events, next, begunWith, begunAt, unit.Time) = (then, when, with, from, time);
        started.CopyTo(begun.AsSpan());
        afterwards.CopyTo(after.AsSpan());
        // What it was given since is not what it was given then.
        Array.Fill(given, double.NaN);
        point.CopyTo(Point.AsSpan());
        Forget();
    }

    public void Dispose() => unit.Dispose();
}
