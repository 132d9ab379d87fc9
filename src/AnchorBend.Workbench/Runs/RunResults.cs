using System.Buffers.Binary;
using System.Runtime.InteropServices;
using System.Text.Json;
using AnchorBend.Interchange.Traces;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Runs;

/// <summary>What is read from a run, under way or finished: traces and values at an instant.</summary>
/// <exception cref="ObjectDisposedException">Its traces are not kept any more; any member throws it.</exception>
public sealed class RunResults(RunJob job)
{
    public const int MostSignals = 200;

    const int Narrowest = 10,
        Widest = 10_000;

    readonly Trace trace = job.Trace ?? throw new ObjectDisposedException(nameof(RunJob));

    /// <summary>
    /// Traces reduced to what a plot of the given width shows: a length, a JSON header with the name and number of points of each
    /// signal, then the times and values of each as little-endian doubles.
    /// </summary>
    /// <param name="signals">Signals by identity, by name or by path.</param>
    public byte[] Traces(IReadOnlyList<string> signals, double? from, double? to, int? width)
    {
        var found = Curves(signals, from ?? job.Options.Start, to ?? job.Options.End, Math.Clamp(width ?? 1000, Narrowest, Widest))
            .ToDictionary(c => c.Signal, c => c.Curve);
        return Packed(signals, found, RunRecovery.Missing(job, signals));
    }

    /// <summary>Curves in the form of <see cref="Traces"/>; those that are missing have no points.</summary>
    /// <param name="missing">Those that the run has not kept and that can be recovered.</param>
    public static byte[] Packed(
        IReadOnlyList<string> signals,
        IReadOnlyDictionary<string, ReducedCurve> found,
        IReadOnlyList<string>? missing = null
    )
    {
        var header = new List<object>();
        var body = new List<double[]>();
        foreach (var name in signals)
        {
            if (!found.TryGetValue(name, out var curve))
            {
                header.Add(
                    new
                    {
                        signal = name,
                        count = 0,
                        missing = missing?.Contains(name) == true,
                    }
                );
                continue;
            }

            header.Add(new { signal = name, count = curve.Times.Length });
            body.Add(curve.Times);
            body.Add(curve.Values);
        }

        return Pack(header, body);
    }

    /// <summary>Curves of the signals that the run has, reduced to a width.</summary>
    internal IEnumerable<(string Signal, ReducedCurve Curve)> Curves(IReadOnlyList<string> signals, double from, double to, int columns)
    {
        var places = signals.Distinct().Select(s => (Signal: s, Place: PlaceOf(s))).Where(p => p.Place >= 0).ToList();
        foreach (var group in places.GroupBy(p => TraceOf(p.Place)))
        {
            if (group.Key is not { } source)
                continue;
            var members = group.ToList();
            var reduced = TraceReduction.Reduce(source, [.. members.Select(m => m.Place)], from, to, columns);
            for (var i = 0; i < members.Count; i++)
                yield return (members[i].Signal, reduced[i]);
        }

        // What the model holds constant has no column of its own.
        foreach (var (signal, _) in places.Where(p => TraceOf(p.Place) is null))
            if (trace.Rows > 0 && Variable(signal) is { } variable && RecordedSignal.Has(job.Prepared, trace, variable))
            {
                var values = RecordedSignal.Values(job.Prepared, job.Parameters.Values, trace, variable);
                // Both sides of every change, and the ends.
                int[] rows =
                [
                    .. Enumerable
                        .Range(0, values.Length)
                        .Where(r => r == 0 || r == values.Length - 1 || values[r] != values[r - 1] || values[r] != values[r + 1]),
                ];
                yield return (signal, new ReducedCurve([.. rows.Select(r => trace.Times[r])], [.. rows.Select(r => values[r])]));
            }
    }

    /// <summary>A signal as it was recorded, in the unit that the model computes in; null where the run does not have it.</summary>
    public Curve? Curve(string signal)
    {
        if (Variable(signal) is not { } variable || trace.Rows == 0)
            return null;
        if (TraceOf(PlaceOf(variable.Index)) is { } source)
            return new Curve(TimesOf(source), source.Column(PlaceOf(variable.Index)));
        return RecordedSignal.Has(job.Prepared, trace, variable)
            ? new Curve(TimesOf(trace), RecordedSignal.Values(job.Prepared, job.Parameters.Values, trace, variable))
            : null;
    }

    /// <summary>The instants of a trace, once for all of its signals; a trace that grows has others later.</summary>
    double[] TimesOf(Trace source)
    {
        if (!times.TryGetValue(source, out var known) || known.Length != source.Rows)
            times[source] = known = [.. source.Times];
        return known;
    }

    readonly Dictionary<Trace, double[]> times = [];

    FlatVariable? Variable(string signal) => job.Prepared.Find(signal);

    int PlaceOf(string signal) => Variable(signal) is { } variable ? PlaceOf(variable.Index) : -1;

    /// <summary>Where a place was recorded: with the run, or recovered later; null where it was not.</summary>
    Trace? TraceOf(int place)
    {
        if (trace.Has(place))
            return trace;
        lock (job.Recovered)
            return job.Recovered.GetValueOrDefault(place);
    }

    /// <summary>
    /// Signals as a table in the units that people read them in: a row for each instant that the run recorded, or for each point of a grid.
    /// </summary>
    /// <param name="signals">Signals by identity, by name or by path; those that the run does not have are left out.</param>
    /// <param name="every">Distance of the points of a grid, s; null for the recorded ones.</param>
    /// <exception cref="Parts.RefusedException">The grid has too many points.</exception>
    public RunTable Table(IReadOnlyList<string> signals, double? every)
    {
        double[] times = every is { } step ? Grid(step) : [.. trace.Times];
        var views = new VariableViews(job.Prepared, job.Parameters.Values);
        if ((long)times.Length * signals.Count > CsvRunTable.MostValues)
            throw new Parts.RefusedException(
                $"That would be {times.Length} rows of {signals.Count} signals, which is too much for one table.",
                "Take fewer signals, or points of a grid."
            );
        var columns = new List<RunColumn>();
        foreach (var name in signals)
        {
            if (Variable(name) is not { } variable || Curve(name) is not { } curve)
                continue;
            var node = SignalReference.TryParse(name, out var signal)
                ? job.Document.Level(signal.Part.Above)?.Diagram.Signals.GetValueOrDefault($"{signal.Part.Id}.{signal.Port}")
                : null;
            var view = views.Signal(variable, name, node);
            var values = every is null ? curve.Values : [.. times.Select(t => curve.At(t) ?? double.NaN)];
            columns.Add(new RunColumn(view.Label, view.Unit, Array.ConvertAll(values, v => v * view.Scale + view.Shift)));
        }

        return new RunTable(times, columns);
    }

    double[] Grid(double step)
    {
        var (first, last) = (trace.Times[0], trace.Times[^1]);
        if (!(step > 0) || (last - first) / step > 20_000_000)
            throw new Parts.RefusedException(
                "The distance of the points must be positive, and at most 20 million of them may lie in the run.",
                "Take a larger distance."
            );
        return [.. Enumerable.Range(0, (int)Math.Floor((last - first) / step + 1e-9) + 1).Select(i => Math.Min(first + i * step, last))];
    }

    /// <summary>Lowest, highest and last value of a signal; null where the run does not have it.</summary>
    public SignalRange? Range(string signal)
    {
        var place = PlaceOf(signal);
        if (place < 0 || !trace.Has(place) || trace.Rows == 0)
            return null;
        var values = trace.Column(place);
        var (lowest, highest) = (values.Min(), values.Max());
        return double.IsFinite(lowest + highest + values[^1]) ? new SignalRange(lowest, highest, values[^1]) : null;
    }

    static byte[] Pack(List<object> header, List<double[]> body)
    {
        var json = JsonSerializer.SerializeToUtf8Bytes(header);
        // The numbers start at a multiple of eight, so that the browser can view them in place.
        var start = (4 + json.Length + 7) / 8 * 8;
        var bytes = new byte[start + body.Sum(b => b.Length) * sizeof(double)];
        BinaryPrimitives.WriteInt32LittleEndian(bytes, json.Length);
        json.CopyTo(bytes, 4);
        foreach (var numbers in body)
        {
            MemoryMarshal.AsBytes(numbers.AsSpan()).CopyTo(bytes.AsSpan(start));
            start += numbers.Length * sizeof(double);
        }

        return bytes;
    }

    /// <summary>Values of signals at an instant, by what they were asked for; those that the run does not have are left out.</summary>
    public Dictionary<string, double> Readings(IEnumerable<string> signals, double time)
    {
        var (found, values) = (new Dictionary<string, double>(), new RunValues(job, trace));
        foreach (var signal in signals)
            if (Variable(signal) is { } variable && values.At(variable.Index, time) is var value && double.IsFinite(value))
                found[signal] = value;
        return found;
    }

    /// <summary>Values of all signals of a level's parts at an instant, by identity: outputs, potentials and flows, what parts
    /// show as their results, members of bundles.</summary>
    public Dictionary<string, double> Values(double time, PartPath level)
    {
        var values = new Dictionary<string, double>();
        var (model, map) = (job.Prepared.Model, job.Prepared.Map);
        if (job.Document.Written(level) is { } written && map.NameOf(level) is { } ownName)
        {
            var shown = written.Definition.Shown();
            foreach (var variable in job.Prepared.OwnedBy(ownName).Where(v => v.Role != VariableRole.Parameter))
                if (variable.Name[(ownName.Length + 1)..] is var local && shown.Contains(local))
                    Add(new SignalReference(level, local), variable.Index);
            return values;
        }

        foreach (var variable in model.Variables)
        {
            if (variable.Role == VariableRole.Parameter || map.Around(variable.Owner) is not { } place || place.Path.Above != level)
                continue;
            var part = map.NameOf(place.Path)!;
            // A physical port's variables belong to the port, and that to the part; what is further in is seen at its own level.
            var isOwn = variable.Owner == part;
            if (
                isOwn
                    ? variable.Causality != Causality.Output && !IsResult(place.Node.Type, variable.Name[(part.Length + 1)..])
                    : !IsPortOf(part, variable.Owner) || variable.Role != VariableRole.Continuous
            )
                continue;
            Add(new SignalReference(place.Path, variable.Name[(part.Length + 1)..]), variable.Index);
        }

        foreach (var (path, members) in model.Bundles)
        {
            if (map.Find(path) is not { } place || place.Path.Above != level)
                continue;
            foreach (var (name, index) in members.SelectMany(m => model.SignalsOf($"{path}.{m.Path}")))
                Add(new SignalReference(place.Path, name[(path.Length + 1)..]), index);
        }

        // Ports of the level are signals inside it.
        foreach (var port in map.Parts.Where(p => p.Path.Above == level && map.IsPort(p.Path)))
        {
            var name = map.NameOf(port.Path)!;
            foreach (var (signal, variable) in model.AllOf(name))
                Add(new SignalReference(port.Path, PortPart.Whole + signal[name.Length..]), variable.Index);
        }

        return values;

        void Add(SignalReference signal, int index)
        {
            var place = PlaceOf(index);
            var value = trace.Has(place) ? trace.At(place, time) : double.NaN;
            if (double.IsFinite(value))
                values[signal.ToString()] = value;
        }
    }

    /// <summary>Whether a part shows a variable of its own as what it came to.</summary>
    bool IsResult(string type, string variable)
    {
        catalog ??= PartCatalog.Standard.For(job.Document);
        return catalog.Find(type) is not null && catalog.Describe(type).Traits.Results.Contains(variable.Split('[')[0]);
    }

    PartCatalog? catalog;

    /// <summary>Whether an owner is a port of a part: one step further in, and not drawn itself.</summary>
    static bool IsPortOf(string part, string owner) => owner.Length > part.Length && owner.IndexOf('.', part.Length + 1) < 0;

    int PlaceOf(int variable) => job.Prepared.Compiled!.Plan.Representative[variable];
}
