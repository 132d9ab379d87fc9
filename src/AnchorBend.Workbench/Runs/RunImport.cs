using AnchorBend.Interchange.Traces;
using AnchorBend.Language;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Runs;

/// <summary>A column of a file, and the signal that it is taken for.</summary>
/// <param name="Title">As it stands in the file.</param>
/// <param name="Unit">Unit of its values; empty for that of the signal.</param>
/// <param name="Signal">By identity or path; null where it is left out.</param>
/// <param name="Problem">Why the unit does not fit; null where it does.</param>
public sealed record ColumnMapping(string Title, string Unit, string? Signal, string? Problem);

/// <summary>What a file holds, with a proposal what its columns are.</summary>
public sealed record ImportPreview(int Rows, double From, double To, IReadOnlyList<ColumnMapping> Columns);

/// <summary>Runs from files: measured data, or runs of other programs. Their columns become signals of the model.</summary>
public sealed class RunImport(RunPool runs, ModelWork models, ComputeGate gate)
{
    static readonly TimeSpan MostReading = TimeSpan.FromSeconds(30);

    /// <summary>What a file holds, and which signals its columns are likely to be: those of the same name, path or label.</summary>
    /// <exception cref="DocumentException">It is no table.</exception>
    public ImportPreview Preview(string model, Stream file, CancellationToken wanted)
    {
        var (prepared, document, _) = models.Session(model).Prepare(wanted);
        return gate.Run(MostReading, wanted, _ =>
        {
            var table = CsvRunTable.Read(file);
            var catalog = SignalCatalog.Of(prepared, document);
            return new ImportPreview(
                table.Times.Length,
                table.Times[0],
                table.Times[^1],
                [
                    .. table.Columns.Select(c =>
                    {
                        var entry = Likely(catalog, c.Name);
                        return new ColumnMapping(
                            c.Title,
                            c.Unit,
                            entry?.Reference,
                            entry is null ? null : Problem(prepared, entry.Reference, c.Unit)
                        );
                    }),
                ]
            );
        });
    }

    static SignalEntry? Likely(SignalCatalog catalog, string name) =>
        catalog.All.FirstOrDefault(s => s.Path == name)
        ?? catalog.All.FirstOrDefault(s => s.Label.Equals(name, StringComparison.OrdinalIgnoreCase))
        ?? catalog.All.FirstOrDefault(s => s.Path.EndsWith("." + name, StringComparison.OrdinalIgnoreCase));

    static string? Problem(Compiler.Preparation.PreparedModel prepared, string signal, string unit)
    {
        if (unit.Length == 0)
            return null;
        if (!Unit.TryParse(unit, out var read, out var problem))
            return problem;
        var own = prepared.Find(signal) is { } variable ? new VariableViews(prepared, []).CoherentUnit(variable) : null;
        return own is null || read.Fits(own)
            ? null
            : $"The signal is in {Unit.Pretty(own.Symbol)}; {Unit.Pretty(unit)} is of another kind.";
    }

    /// <summary>Takes a file in as a run of the model.</summary>
    /// <param name="name">Name of the file.</param>
    /// <param name="columns">What its columns are, by title; those that are missing are left out.</param>
    /// <exception cref="DocumentException">It is no table, or a column is not what it is taken for.</exception>
    public RunSummary Take(string model, string name, Stream file, IReadOnlyList<ColumnMapping> columns, CancellationToken wanted)
    {
        var (prepared, document, revision) = models.Session(model).Prepare(wanted);
        if (!prepared.CanRun)
            throw new DocumentException("The model has errors; see its findings.");
        var job = gate.Run(MostReading, wanted, _ =>
        {
            var table = CsvRunTable.Read(file);
            var places = new List<int>();
            var values = new List<double[]>();
            foreach (var column in table.Columns)
            {
                if (columns.FirstOrDefault(c => c.Title == column.Title) is not { Signal: { Length: > 0 } signal } mapping)
                    continue;
                if (prepared.Find(signal) is not { Role: not VariableRole.Parameter } variable)
                    throw new DocumentException($"The column {column.Title} is taken for '{signal}', which is not in the model.");
                if (Problem(prepared, signal, mapping.Unit) is { } problem)
                    throw new DocumentException($"The column {column.Title}: {problem}");
                var place = prepared.Compiled!.Plan.Representative[variable.Index];
                if (places.Contains(place))
                    throw new DocumentException($"Two columns are taken for '{variable.Name}'.");
                places.Add(place);
                values.Add(Converted(column.Values, mapping.Unit, new VariableViews(prepared, []).CoherentUnit(variable)));
            }

            if (places.Count == 0)
                throw new DocumentException("Say of at least one column which signal it is.");
            var (from, to) = (table.Times[0], table.Times[^1]);
            var made = new RunJob(
                model,
                revision,
                prepared,
                document,
                RunPool.OptionsOf(document) with
                {
                    Start = from,
                    End = Math.Max(to, Math.BitIncrement(from)),
                }
            )
            {
                Source = name.Length > RunLabel.LongestName ? name[..RunLabel.LongestName] : name,
                Number = runs.NextNumber(model),
                Label = new RunLabel(name, "", false),
            };
            var trace = Trace.Of(places, table.Times, values);
            var check = new RequirementCheck(prepared, made.Parameters, trace, from, to, document.Measures);
            made.Restore(
                new RunResult(trace, new RunStatistics(), [], null),
                [.. document.Requirements.Select(r => check.Check(r.Key, r.Value))]
            );
            return made;
        });
        runs.Adopt(job);
        return RunSummary.Of(job);
    }

    static double[] Converted(double[] values, string unit, Unit? own)
    {
        if (unit.Length == 0 || own is null || !Unit.TryParse(unit, out var read, out _))
            return values;
        WorkBudget.Current.Check();
        var (scale, shift) = read.ConversionTo(own);
        return Array.ConvertAll(values, v => v * scale + shift);
    }
}
