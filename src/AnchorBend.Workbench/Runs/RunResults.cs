using System.Buffers.Binary;
using System.Globalization;
using System.Runtime.InteropServices;
using System.Text;
using System.Text.Json;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Runs;

/// <summary>What is read from a finished run: traces and values at an instant.</summary>
/// <exception cref="ObjectDisposedException">Its traces are not kept any more; any member throws it.</exception>
public sealed class RunResults(RunJob job, RunResult result)
{
    public const int MostSignals = 200;

    const int Narrowest = 10,
        Widest = 10_000;

    /// <summary>
    /// Traces reduced to what a plot of the given width shows: a length, a JSON header with the name and number of points of each
    /// signal, then the times and values of each as little-endian doubles.
    /// </summary>
    /// <param name="signals">Signals by identity, by name or by path.</param>
    public byte[] Traces(IReadOnlyList<string> signals, double? from, double? to, int? width)
    {
        var trace = result.Trace;
        var columns = Math.Clamp(width ?? 1000, Narrowest, Widest);
        var header = new List<object>();
        var body = new List<double[]>();
        foreach (var name in signals)
        {
            var place = job.Prepared.Find(name) is { } variable ? PlaceOf(variable.Index) : -1;
            if (place < 0 || !trace.Has(place))
            {
                header.Add(new { signal = name, count = 0 });
                continue;
            }

            var values = trace.Column(place);
            var chosen = TraceReduction.Indices(trace.Times, values, from ?? job.Options.Start, to ?? job.Options.End, columns);
            header.Add(new { signal = name, count = chosen.Length });
            body.Add([.. chosen.Select(i => trace.Times[i])]);
            body.Add([.. chosen.Select(i => values[i])]);
        }

        return Pack(header, body);
    }

    /// <summary>
    /// Writes signals as a table with commas (RFC 4180): a row for each instant that the run recorded, in the units that people read them
    /// in. Rows are read as they are written, so that a long run needs no room.
    /// </summary>
    /// <param name="signals">Signals by identity, by name or by path; those that the run does not have are left out.</param>
    public async Task WriteCsv(Stream target, IReadOnlyList<string> signals, CancellationToken wanted)
    {
        var trace = result.Trace;
        var views = new VariableViews(job.Prepared, job.Parameters.Values);
        var columns = new List<(string Title, int Place, double Scale, double Shift)>();
        foreach (var name in signals)
        {
            if (job.Prepared.Find(name) is not { } variable || PlaceOf(variable.Index) is var place && !trace.Has(place))
                continue;
            var node = SignalReference.TryParse(name, out var signal)
                ? job.Document.Level(signal.Part.Above)?.Diagram.Signals.GetValueOrDefault($"{signal.Part.Id}.{signal.Port}")
                : null;
            var view = views.Signal(variable, name, node);
            columns.Add((view.Unit.Length == 0 ? view.Label : $"{view.Label} [{view.Unit}]", place, view.Scale, view.Shift));
        }

        await using var writer = new StreamWriter(target, new UTF8Encoding(false), leaveOpen: true);
        var text = new StringBuilder("time [s]");
        foreach (var column in columns)
            text.Append(',').Append(Quoted(column.Title));
        text.Append("\r\n");
        for (var row = 0; row < trace.Rows; row++)
        {
            text.Append(trace.Times[row].ToString("R", CultureInfo.InvariantCulture));
            foreach (var (_, place, scale, shift) in columns)
                text.Append(',').Append((trace[row, place] * scale + shift).ToString("R", CultureInfo.InvariantCulture));
            text.Append("\r\n");
            if (text.Length < Chunk)
                continue;
            await writer.WriteAsync(text, wanted);
            text.Clear();
        }

        await writer.WriteAsync(text, wanted);
    }

    /// <summary>Letters that are written at once.</summary>
    const int Chunk = 1 << 16;

    static string Quoted(string text) =>
        text.AsSpan().IndexOfAny(',', '"', '\n') < 0 ? text : $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";

    /// <summary>Lowest, highest and last value of a signal; null where the run does not have it.</summary>
    public SignalRange? Range(string signal)
    {
        var place = job.Prepared.Find(signal) is { } variable ? PlaceOf(variable.Index) : -1;
        if (place < 0 || !result.Trace.Has(place) || result.Trace.Rows == 0)
            return null;
        var (lowest, highest, last) = (double.PositiveInfinity, double.NegativeInfinity, double.NaN);
        var values = result.Trace.Column(place);
        for (var i = 0; i < result.Trace.Rows; i++)
        {
            last = values[i];
            (lowest, highest) = (Math.Min(lowest, last), Math.Max(highest, last));
        }

        return double.IsFinite(lowest + highest + last) ? new SignalRange(lowest, highest, last) : null;
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

    /// <summary>Values of all signals of a level's parts at an instant, by identity: outputs, potentials and flows, members of
    /// bundles.</summary>
    public Dictionary<string, double> Values(double time, PartPath level)
    {
        var values = new Dictionary<string, double>();
        var (model, map) = (job.Prepared.Model, job.Prepared.Map);
        foreach (var variable in model.Variables)
        {
            if (variable.Role == VariableRole.Parameter || map.Around(variable.Owner) is not { } place || place.Path.Above != level)
                continue;
            var part = map.NameOf(place.Path)!;
            // A physical port's variables belong to the port, and that to the part; what is further in is seen at its own level.
            var isOwn = variable.Owner == part;
            if (
                isOwn ? variable.Causality != Causality.Output : !IsPortOf(part, variable.Owner) || variable.Role != VariableRole.Continuous
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
            var value = result.Trace.Has(place) ? result.Trace.At(place, time) : double.NaN;
            if (double.IsFinite(value))
                values[signal.ToString()] = value;
        }
    }

    /// <summary>Whether an owner is a port of a part: one step further in, and not drawn itself.</summary>
    static bool IsPortOf(string part, string owner) => owner.Length > part.Length && owner.IndexOf('.', part.Length + 1) < 0;

    int PlaceOf(int variable) => job.Prepared.Compiled!.Plan.Representative[variable];
}
