using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Panels;

/// <summary>What a panel's item sets or shows.</summary>
/// <param name="Label">What it is called where nobody said.</param>
/// <param name="Value">Of a control: what the model has now, in <paramref name="Unit"/>.</param>
/// <param name="Type">Real, Integer or Boolean.</param>
/// <param name="Signal">Of an instrument, in its unit.</param>
/// <param name="Problem">Why it cannot do its work; null where it can.</param>
public sealed record PanelItemView(
    string Label,
    double? Value,
    string Unit,
    string Type,
    SignalView? Signal,
    SignalView? Second,
    string? Problem
);

/// <param name="Items">By id.</param>
public sealed record PanelView(IReadOnlyDictionary<string, PanelItemView> Items);

/// <summary>A parameter that a control can set.</summary>
/// <param name="Target">The parameter as that of a part by its ids.</param>
public sealed record SettableParameter(string Target, string Label, string Unit, string Type);

/// <summary>Panels as the interface shows them.</summary>
public sealed class PanelViews(PreparedModel prepared, ModelDocument document)
{
    readonly SignalCatalog signals = SignalCatalog.Of(prepared, document);

    public PanelView Of(PanelNode panel) => new(panel.Items.ToDictionary(i => i.Key, i => Of(i.Value)));

    /// <summary>Parameters of drawn parts whose names have all words of a search; values of constants come first.</summary>
    public IReadOnlyList<SettableParameter> Settable(string? search, int most)
    {
        var words = (search ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries);
        return
        [
            .. prepared
                .Model.Variables.Where(v =>
                    v is { Role: VariableRole.Parameter, IsProtected: false } && !v.Name.Contains('[', StringComparison.Ordinal)
                )
                .Select(v => (Variable: v, Place: prepared.Map.Find(v.Owner)))
                .Where(p =>
                    p.Place is not null && Array.TrueForAll(words, w => p.Variable.Name.Contains(w, StringComparison.OrdinalIgnoreCase))
                )
                .OrderByDescending(p => p.Variable.Name.EndsWith(".k", StringComparison.Ordinal))
                .Take(most)
                .Select(p => new SettableParameter(
                    new SignalReference(p.Place!.Path, p.Variable.Name[(p.Variable.Owner.Length + 1)..]).ToString(),
                    Name(p.Variable.Owner, p.Variable.Name),
                    p.Variable.Unit?.Symbol ?? "",
                    TypeOf(p.Variable)
                )),
        ];
    }

    static string TypeOf(FlatVariable parameter) =>
        parameter.Type switch
        {
            ScalarType.Boolean => "Boolean",
            ScalarType.Integer => "Integer",
            _ => "Real",
        };

    static bool IsControl(PanelItemKind kind) => kind <= PanelItemKind.Stick;

    PanelItemView Of(PanelItemNode item)
    {
        if (item.Kind is PanelItemKind.Alerts or PanelItemKind.Faults)
            return new PanelItemView(item.Kind == PanelItemKind.Alerts ? "Alerts" : "Faults", null, "", "", null, null, null);
        if (item.Target is not { Length: > 0 } target)
            return Problem(IsControl(item.Kind) ? "Choose what it sets." : "Choose what it shows.");
        return IsControl(item.Kind) ? Control(item, target) : Instrument(item, target);
    }

    static PanelItemView Problem(string text) => new("", null, "", "", null, null, text);

    PanelItemView Control(PanelItemNode item, string target)
    {
        if (prepared.Find(target) is not { Role: VariableRole.Parameter } parameter)
            return Problem("What it sets is not in the model any more.");
        var own = parameter.Unit?.Symbol ?? (prepared.Dimensions[parameter.Index] is { IsNone: false } d ? UnitTable.Usual(d) : "");
        var unit = item.Unit is { Length: > 0 } wanted ? wanted : own;
        var value = prepared.Model.ParameterValues()[parameter.Index];
        if (unit != own && own.Length > 0)
        {
            if (!Unit.TryParse(unit, out var shown, out _) || !Unit.TryParse(own, out var coherent, out _) || !shown.Fits(coherent))
                return Problem($"{DocumentLimits.Short(unit)} does not fit what it sets, which is in {own}.");
            value = coherent.ConvertTo(shown, value);
        }

        return new PanelItemView(
            Name(parameter.Owner, parameter.Name),
            double.IsFinite(value) ? value : null,
            Unit.Pretty(unit),
            TypeOf(parameter),
            null,
            null,
            null
        );
    }

    /// <summary>A constant's value is called as the constant is.</summary>
    static string Name(string owner, string name)
    {
        var part = owner[(owner.LastIndexOf('.') + 1)..];
        return part.Length == 0 || name.EndsWith(".k", StringComparison.Ordinal) ? part : $"{part} {name[(owner.Length + 1)..]}";
    }

    PanelItemView Instrument(PanelItemNode item, string target)
    {
        var wanted = new List<(string, string?)> { (target, item.Unit) };
        if (item.Second is { Length: > 0 } second)
            wanted.Add((second, item.Unit));
        var found = signals.Views(wanted);
        if (found.FirstOrDefault(f => f.Signal == target) is not { } first)
            return Problem("What it shows is not in the model any more.");
        var other = item.Second is null ? null : found.FirstOrDefault(f => f.Signal == item.Second)?.View;
        return new PanelItemView(
            first.View.Label,
            null,
            first.View.Unit,
            first.View.IsBoolean ? "Boolean" : "Real",
            first.View,
            other,
            null
        );
    }
}
