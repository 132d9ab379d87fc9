using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Rules;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;

namespace AnchorBend.Workbench.Runs;

/// <summary>
/// What a run records: everything where that takes little room, else the states and what is plotted, required or measured. The rest can be
/// recovered by making the run again for it.
/// </summary>
public static class KeptVariables
{
    /// <summary>Bytes up to which a run records all its variables.</summary>
    const long MostForAll = 256L << 20;

    /// <summary>Output points where none are asked for, with room for events.</summary>
    const double UsualRows = 4000;

    /// <returns>Places of variables; null for all.</returns>
    public static IReadOnlyList<int>? Of(PreparedModel prepared, ModelDocument document, RunOptions options)
    {
        var plan = prepared.Compiled!.Plan;
        var all = prepared.Model.Variables.Count(v =>
            v.Index < plan.Representative.Length && plan.Representative[v.Index] == v.Index && v.Role != VariableRole.Parameter
        );
        var rows = options.OutputInterval is { } every ? (options.End - options.Start) / every : UsualRows;
        if (rows * all * sizeof(double) <= MostForAll)
            return null;
        var kept = new HashSet<int>(plan.States.Select(s => plan.Representative[s]));
        foreach (var name in Named(document))
            if (prepared.Find(name) is { } variable && variable.Role != VariableRole.Parameter)
                kept.Add(plan.Representative[variable.Index]);
        foreach (var (path, _, diagram) in prepared.Map.Levels)
        foreach (var (key, signal) in diagram.Signals)
            if (
                (signal.Probe is not null || signal.Name is { Length: > 0 })
                && SignalReference.TryParse(key, out var port)
                && prepared.Find(new SignalReference(path.Then(port.Part.ToString()), port.Port)) is { } variable
            )
                kept.Add(plan.Representative[variable.Index]);
        return [.. kept];
    }

    /// <summary>Signals that requirements, sheets and measures speak of.</summary>
    static IEnumerable<string> Named(ModelDocument document)
    {
        foreach (var requirement in document.Requirements.Values)
        {
            if (requirement.Signal.Length > 0)
                yield return requirement.Signal;
            if (requirement.Reference is { } reference)
                yield return reference;
            foreach (var name in requirement.Rule is { } rule ? NamesInRule(rule) : [])
                yield return name;
        }

        foreach (var tile in document.PlotSheets.Values.SelectMany(s => s.Tiles.Values))
        {
            if (tile.Abscissa is { } abscissa)
                yield return abscissa;
            foreach (var curve in tile.Curves.Values)
                yield return curve.Signal;
        }

        foreach (var measure in document.Measures.Values)
        foreach (var name in NamesIn(measure.Expression))
            yield return name;
    }

    static IEnumerable<string> NamesInRule(string rule)
    {
        try
        {
            return [.. RuleParser.NamesIn(rule).Select(n => string.Join('.', n.Steps))];
        }
        catch (LanguageException)
        {
            // It says itself what is wrong with it.
            return [];
        }
    }

    static IEnumerable<string> NamesIn(string expression)
    {
        try
        {
            return References.In(Parser.ParseMeasure(expression)).Select(r => r.Path).ToList();
        }
        catch (LanguageException)
        {
            // It says itself what is wrong with it.
            return [];
        }
    }
}
