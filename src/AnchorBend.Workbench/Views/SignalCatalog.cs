using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Workbench.Views;

/// <summary>A quantity of a model that can be looked at.</summary>
/// <param name="Reference">The signal by identity; its path where no drawn part has it.</param>
/// <param name="Path">Its name in the model.</param>
/// <param name="Part">The drawn part that it belongs to, by names; empty for the model's own.</param>
/// <param name="Kind">state, rate, signal, Boolean, discrete or parameter.</param>
public sealed record SignalEntry(string Reference, string Path, string Part, string Label, string? Description, string Unit, string Kind)
{
    /// <summary>How expressions name it.</summary>
    public string Written { get; init; } = "";

    internal int Variable { get; init; }

    /// <summary>Whether somebody gave it a name.</summary>
    internal bool IsNamed { get; init; }
}

/// <summary>A signal as plots show it.</summary>
/// <param name="Wanted">The unit that was asked for; null for its own.</param>
/// <param name="Units">Others of the same dimension.</param>
public sealed record SignalInfo(string Signal, string? Wanted, SignalView View, IReadOnlyList<string> Units)
{
    public string Part { get; init; } = "";

    public string? Description { get; init; }

    public string Kind { get; init; } = "";
}

/// <summary>What a search for signals gives.</summary>
/// <param name="Total">How many signals the model has.</param>
/// <param name="Matching">How many of them match.</param>
public sealed record FoundSignals(int Total, int Matching, IReadOnlyList<SignalEntry> Signals, IReadOnlyList<string> Units);

/// <summary>All quantities of a model, to be found by level, part, name, description, unit and kind.</summary>
public sealed class SignalCatalog
{
    readonly PreparedModel prepared;
    readonly VariableViews views;
    readonly ModelDocument document;
    readonly Dictionary<int, SignalEntry> byVariable;

    static readonly System.Runtime.CompilerServices.ConditionalWeakTable<PreparedModel, SignalCatalog> Known = [];

    /// <summary>The catalog of a model; it is made once.</summary>
    public static SignalCatalog Of(PreparedModel prepared, ModelDocument document) =>
        Known.GetValue(prepared, p => new SignalCatalog(p, document));

    SignalCatalog(PreparedModel prepared, ModelDocument document)
    {
        (this.prepared, this.document) = (prepared, document);
        views = new VariableViews(prepared, new ParameterSet(prepared.Model).Values);
        var names = new Dictionary<int, string>();
        foreach (var (name, index) in prepared.Model.Aliases)
            if (!name.Contains('[', StringComparison.Ordinal))
                names.TryAdd(index, name);
        All =
        [
            .. prepared
                .Model.Variables.Where(v =>
                    v.Index > FlatModel.InitialFlagIndex
                    && v.Role is VariableRole.Continuous or VariableRole.Discrete
                    && !v.Name.Contains('$', StringComparison.Ordinal)
                    && v.Name.Length > 0
                    && !IsInsideOfForm(v)
                )
                .Select(v => Entry(v, names.GetValueOrDefault(v.Index))),
        ];
        byVariable = All.ToDictionary(s => s.Variable);
    }

    /// <summary>Whether a variable only serves the steps of a chart or table: nobody put it there.</summary>
    bool IsInsideOfForm(FlatVariable variable)
    {
        if (!variable.IsProtected || prepared.Map.Find(variable.Owner) is not { } place)
            return false;
        return document.Written(place.Path) is { } written
            && !written.Definition.Shown().Contains(variable.Name[(variable.Owner.Length + 1)..]);
    }

    /// <summary>In the order of the model.</summary>
    public IReadOnlyList<SignalEntry> All { get; }

    SignalEntry Entry(FlatVariable variable, string? alias)
    {
        var inner = variable.Name.StartsWith("der(", StringComparison.Ordinal) ? variable.Name[4..].TrimEnd(')') : variable.Name;
        var place = prepared.Map.Around(inner);
        var part = place is null ? "" : prepared.Map.NameOf(place.Path)!;
        // A port of the model is a variable itself: it has no name within a part.
        var within = place is not null && inner.Length > part.Length + 1 ? inner[(part.Length + 1)..] : null;
        var isRate = inner != variable.Name;
        var reference = within is null || isRate ? variable.Name : new SignalReference(place!.Path, within).ToString();
        var unit = views.CoherentUnit(variable);
        var shown =
            variable.DisplayUnit is { } display ? Unit.Pretty(display)
            : unit is null ? ""
            : Unit.Pretty(unit.Symbol);
        return new SignalEntry(
            reference,
            variable.Name,
            part,
            alias is not null ? Short(alias, part)
                : within is null ? LastStep(variable.Name)
                : isRate ? $"der({within})"
                : within,
            variable.Description,
            shown == "1" ? "" : shown,
            KindOf(variable)
        )
        {
            Variable = variable.Index,
            Written = isRate ? $"der({Quoted(inner)})" : Quoted(alias ?? variable.Name),
            IsNamed = alias is not null,
        };
    }

    /// <summary>A path as expressions have it: steps with spaces stand in quotes, subscripts behind them.</summary>
    static string Quoted(string path) =>
        string.Join(
            '.',
            path.Split('.')
                .Select(step =>
                    step.IndexOf('[', StringComparison.Ordinal) is > 0 and var at
                        ? ExpressionText.Name(step[..at]) + step[at..]
                        : ExpressionText.Name(step)
                )
        );

    string KindOf(FlatVariable variable)
    {
        var plan = prepared.Compiled?.Plan;
        if (variable.Type == ScalarType.Boolean)
            return "Boolean";
        if (variable.Role == VariableRole.Discrete)
            return "discrete";
        if (plan is null || variable.Index >= plan.Representative.Length)
            return "signal";
        var place = plan.Representative[variable.Index];
        return plan.StateSlot[place] >= 0 ? "state"
            : plan.DerivativeSlot[place] >= 0 ? "rate"
            : "signal";
    }

    /// <summary>Signals by identity, by name or by path, as plots show them; those that are not in the model are left out.</summary>
    /// <param name="wanted">Each with the unit that it is wanted in; null for its own.</param>
    public IReadOnlyList<SignalInfo> Views(IEnumerable<(string Signal, string? Unit)> wanted)
    {
        var found = new List<SignalInfo>();
        foreach (var (signal, unit) in wanted)
            if (prepared.Find(signal) is { } variable && byVariable.TryGetValue(variable.Index, out var entry))
            {
                var own = views.CoherentUnit(variable);
                var view = View(entry with { Reference = signal });
                if (unit is not null && own is not null && Unit.TryParse(unit, out var read, out _) && read.Fits(own))
                {
                    var (scale, shift) = own.ConversionTo(read);
                    view = view with { Unit = Unit.Pretty(unit), Scale = scale, Shift = shift };
                }

                found.Add(
                    new SignalInfo(signal, unit, view, own is null || own.Dimension.IsNone ? [] : UnitTable.OfDimension(own.Dimension))
                    {
                        Part = entry.Part,
                        Description = entry.Description,
                        Kind = entry.Kind,
                    }
                );
            }
            else if (prepared.Find(signal) is { Role: VariableRole.Parameter } parameter)
            {
                // What a run is given by hand is spoken of as signals are.
                var own = views.CoherentUnit(parameter);
                found.Add(
                    new SignalInfo(
                        signal,
                        unit,
                        views.Signal(parameter, signal, null),
                        own is null || own.Dimension.IsNone ? [] : UnitTable.OfDimension(own.Dimension)
                    )
                );
            }

        return found;
    }

    /// <summary>A signal as plots show it.</summary>
    public SignalView View(SignalEntry entry)
    {
        var node = SignalReference.TryParse(entry.Reference, out var signal)
            ? document.Level(signal.Part.Above)?.Diagram.Signals.GetValueOrDefault($"{signal.Part.Id}.{signal.Port}")
            : null;
        var view = views.Signal(prepared.Model.Variables[entry.Variable], entry.Reference, node);
        // A quantity without a name of its own is told by its part.
        return node?.Name is { Length: > 0 } || entry.Part.Length == 0
            ? view
            : view with
            {
                Label = entry.IsNamed || entry.Label == LastStep(entry.Part) ? entry.Label : $"{LastStep(entry.Part)} {entry.Label}",
            };
    }

    /// <summary>A name without the level that it stands on, which its part tells.</summary>
    static string Short(string name, string part)
    {
        for (var level = part; level.LastIndexOf('.') is > 0 and var dot; )
        {
            level = level[..dot];
            if (name.StartsWith(level + ".", StringComparison.Ordinal))
                return name[(level.Length + 1)..];
        }

        return name;
    }

    static string LastStep(string part) => part[(part.LastIndexOf('.') + 1)..];

    /// <summary>
    /// Signals that match: every word of the search occurs in name, path, description or unit. Those whose name begins with the search come
    /// first, then those whose name has it.
    /// </summary>
    /// <param name="part">Only of this part and those in it, by ids; the root for all.</param>
    /// <param name="unit">Only in this unit, as shown; null for any.</param>
    /// <param name="kind">Only of this kind; null for any.</param>
    public FoundSignals Find(string? search, PartPath part, string? unit, string? kind, int offset, int limit)
    {
        var words = (search ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        var within = part.IsRoot ? "" : prepared.Map.NameOf(part) ?? "\n";
        var matching = All.Where(s =>
                (within.Length == 0 || s.Part == within || s.Part.StartsWith(within + ".", StringComparison.Ordinal))
                && (unit is null || s.Unit == unit)
                && (kind is null || s.Kind == kind)
                && Array.TrueForAll(words, w => Has(s.Label, w) || Has(s.Path, w) || Has(s.Description, w) || Has(s.Unit, w))
            )
            .ToList();
        var ranked = words.Length == 0 ? matching : [.. matching.OrderBy(s => Rank(s, words[0]))];
        return new FoundSignals(
            All.Count,
            matching.Count,
            [.. ranked.Skip(offset).Take(limit)],
            [.. All.Select(s => s.Unit).Where(u => u.Length > 0).Distinct().Order(StringComparer.Ordinal)]
        );
    }

    static bool Has(string? text, string word) => text?.Contains(word, StringComparison.OrdinalIgnoreCase) == true;

    static int Rank(SignalEntry signal, string word) =>
        signal.Label.StartsWith(word, StringComparison.OrdinalIgnoreCase) ? 0
        : Has(signal.Label, word) ? 1
        : Has(signal.Part, word) ? 2
        : 3;
}
