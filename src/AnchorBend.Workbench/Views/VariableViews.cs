using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Workbench.Views;

/// <summary>Variables of the flat model as people read them: with their units, under their names.</summary>
sealed class VariableViews(PreparedModel prepared, double[] values)
{
    public ParameterView Parameter(FlatVariable variable, bool shown)
    {
        var number = values[variable.Index];
        var unit = variable.Unit?.Symbol ?? (prepared.Dimensions[variable.Index] is { IsNone: false } d ? UnitTable.Usual(d) : null);
        string? display = null;
        if (
            variable is { DisplayUnit: { } symbol, Unit: { } own }
            && double.IsFinite(number)
            && Unit.TryParse(symbol, out var read, out _)
            && read.Fits(own)
            && read.Symbol != own.Symbol
        )
            display = ShownText.Of(FormattableString.Invariant($"{own.ConvertTo(read, number):G5} {Unit.Pretty(symbol)}"));
        return new ParameterView(double.IsFinite(number) ? number : null, unit is null ? null : Unit.Pretty(unit), shown, display);
    }

    /// <summary>The unit that a variable's values are in, declared or inferred; null where none is known.</summary>
    public Unit? CoherentUnit(FlatVariable variable)
    {
        var place = prepared.Compiled is { } c ? c.Plan.Representative[variable.Index] : variable.Index;
        var dimension = prepared.Dimensions[variable.Index] ?? prepared.Dimensions[place];
        return variable.Unit
            ?? (dimension is { IsNone: false } d && Unit.TryParse(UnitTable.Usual(d), out var found, out _) ? found : null);
    }

    /// <param name="reference">The signal by identity.</param>
    public SignalView Signal(FlatVariable variable, string reference, SignalNode? node)
    {
        var coherent = CoherentUnit(variable);
        var recorded = prepared.RecordedName(variable.Index);
        var label = node?.Name is { Length: > 0 } name ? name : variable.Name;
        if (
            variable.DisplayUnit is { } symbol
            && Unit.TryParse(symbol, out var display, out _)
            && coherent is not null
            && display.Fits(coherent)
        )
        {
            var (scale, shift) = coherent.ConversionTo(display);
            return new SignalView(reference, variable.Name, label, Unit.Pretty(symbol), scale, shift, false, recorded);
        }

        return new SignalView(
            reference,
            variable.Name,
            label,
            coherent is null ? "" : Unit.Pretty(coherent.Symbol),
            1,
            0,
            variable.Type == ScalarType.Boolean,
            recorded
        );
    }
}
