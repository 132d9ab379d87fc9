using AnchorBend.Language.Terms;

namespace AnchorBend.Delivery.Exchange;

/// <summary>
/// An instance of an exchange unit in a process of its own. It goes on from one communication point to the next with the inputs that it
/// was given at the first one; at a point it can be given other inputs as often as anybody likes, and outputs follow. What is put: first
/// parameters, then inputs, each in the order of the description.
/// </summary>
sealed class UnitProcess : IOutsideSteps, IDisposable
{
    readonly UnitDescription description;
    readonly UnitInstance unit;
    readonly UnitVariable[] given,
        made;
    readonly double[] values,
        sent,
        outputs;
    bool isInitializing;
    bool isStale = true;

    public UnitProcess(UnitDescription description, UnitInstance unit)
    {
        (this.description, this.unit) = (description, unit);
        given = [.. description.Of(UnitRole.Parameter), .. description.Of(UnitRole.Input)];
        made = [.. description.Of(UnitRole.Output)];
        values = [.. given.Select(v => v.Start ?? 0)];
        sent = [.. given.Select(v => v.Start ?? double.NaN)];
        outputs = new double[made.Length];
    }

    public void Put(int input, double value) => values[input] = value;

    public void Step(double time)
    {
        if (double.IsNaN(unit.Time))
        {
            unit.Time = time;
            Send(v => v.Role == UnitRole.Parameter);
            unit.Enter(time);
            isInitializing = true;
            return;
        }

        if (!(time > unit.Time))
            return;
        Send(_ => true);
        if (isInitializing)
        {
            unit.Ask('e');
            isInitializing = false;
        }

        unit.Process.Ask('s').With([unit.Time, time - unit.Time]);
        unit.Hear();
        unit.Time = time;
        isStale = true;
        unit.Moved();
    }

    /// <summary>Hands on what is another value than before.</summary>
    void Send(Func<UnitVariable, bool> which)
    {
        var changed = Enumerable.Range(0, given.Length).Where(i => which(given[i]) && !values[i].Equals(sent[i])).ToList();
        if (changed.Count == 0)
            return;
        foreach (var i in changed)
        {
            if (given[i] is { Role: UnitRole.Parameter, IsTunable: false } && !isInitializing && unit.Mark > 0)
                throw unit.Failed($"its parameter {given[i].Name} cannot change while it runs");
            sent[i] = values[i];
        }

        unit.Set([.. changed.Select(i => given[i])], [.. changed.Select(i => values[i])]);
        isStale = true;
    }

    public double Get(int output)
    {
        Send(_ => true);
        if (isStale)
            unit.Get(made, outputs);
        isStale = false;
        return outputs[output];
    }

    public byte[] Save()
    {
        using var stream = new MemoryStream();
        using var writer = new BinaryWriter(stream);
        writer.Write(unit.Mark);
        writer.Write(unit.Time);
        writer.Write(isInitializing);
        foreach (var value in values.Concat(sent))
            writer.Write(value);
        var state = description.CanSave && !double.IsNaN(unit.Time) ? unit.Save() : [];
        writer.Write(state.Length);
        writer.Write(state);
        return stream.ToArray();
    }

    public void Restore(byte[] state)
    {
        using var reader = new BinaryReader(new MemoryStream(state));
        var (then, time, initializing) = (reader.ReadInt64(), reader.ReadDouble(), reader.ReadBoolean());
        foreach (var list in new[] { values, sent })
            for (var i = 0; i < list.Length; i++)
                list[i] = reader.ReadDouble();
        var bytes = reader.ReadBytes(reader.ReadInt32());
        // Where it stands, it need not be brought; but what it was given since is not what it was given then.
        if (then == unit.Mark && time.Equals(unit.Time))
        {
            for (var i = 0; i < sent.Length; i++)
                if (given[i].Role == UnitRole.Input || given[i].IsTunable)
                    sent[i] = double.NaN;
            isStale = true;
            return;
        }

        if (double.IsNaN(time))
        {
            // It had not begun yet.
            unit.Reset();
            (unit.Mark, unit.Time, isInitializing, isStale) = (then, time, initializing, true);
            Array.Fill(sent, double.NaN);
            return;
        }

        if (!description.CanSave)
            throw unit.NotSaved();
        if (double.IsNaN(unit.Time))
        {
            unit.Enter(time);
            if (!initializing)
                unit.Ask('e');
        }

        unit.Restore(bytes);
        (unit.Mark, unit.Time, isInitializing, isStale) = (then, time, initializing, true);
    }

    public void Dispose() => unit.Dispose();
}
