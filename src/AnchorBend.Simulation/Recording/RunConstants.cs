using AnchorBend.Compiler.Preparation;

namespace AnchorBend.Simulation.Recording;

/// <summary>
/// What the parameters of a run were, where it was given others on its way: signals that equal a parameter have no column of their own and
/// are read from here.
/// </summary>
/// <param name="Stretches">Values of all parameters by index, each from a row on; the first are those of the start.</param>
public sealed record RunConstants(IReadOnlyList<(int Row, double[] Values)> Stretches)
{
    /// <summary>The same with other values from a row on.</summary>
    internal RunConstants With(int row, double[] values) => new([.. Stretches, (row, values)]);

    /// <summary>The part that holds for the first rows.</summary>
    internal RunConstants Before(int rows) => new([Stretches[0], .. Stretches.Skip(1).TakeWhile(s => s.Row < rows)]);

    /// <summary>Values of one parameter for every row.</summary>
    public double[] Column(int parameter, int rows)
    {
        var values = new double[rows];
        for (var i = 0; i < Stretches.Count; i++)
        {
            var (from, to) = (Math.Min(Stretches[i].Row, rows), i + 1 < Stretches.Count ? Math.Min(Stretches[i + 1].Row, rows) : rows);
            if (to > from)
                Array.Fill(values, Stretches[i].Values[parameter], from, to - from);
        }

        return values;
    }

    /// <summary>Values of all parameters at a time, by index: behind what was set at it.</summary>
    public double[] At(double time, Trace trace)
    {
        var known = trace.RowsUpTo(time);
        // Behind all rows what was set last counts, also where its row is yet to come.
        if (known == trace.Rows && !double.IsNegativeInfinity(time))
            return Stretches[^1].Values;
        return Stretches.Skip(1).LastOrDefault(s => s.Row < known, Stretches[0]).Values;
    }

    /// <summary>Reads them off a script, for a trace that was read from a file; null where nothing was set.</summary>
    /// <param name="prepared">The model as the run began with it.</param>
    public static RunConstants? Of(PreparedModel prepared, RunScript? script, Trace trace)
    {
        if (script is not { Values.Count: > 0 })
            return null;
        var found = new RunConstants([(0, new ParameterSet(prepared.Model).Values)]);
        foreach (var together in script.Values.GroupBy(v => v.Time))
        {
            // Each value has left one more row at its instant.
            var row = together.Key is { } time ? trace.RowsUpTo(time) - together.Count() - 1 : -together.Count();
            foreach (var value in together)
            {
                row++;
                if (
                    prepared.Find(value.Parameter) is not { } parameter
                    || value.In(parameter.Unit) is not { } number
                    || ValueChange.Apply(prepared, [(parameter.Name, number)]) is not { } changed
                )
                    continue;
                prepared = changed;
                found = found.With(Math.Max(0, row), new ParameterSet(changed.Model).Values);
            }
        }

        return found;
    }
}
