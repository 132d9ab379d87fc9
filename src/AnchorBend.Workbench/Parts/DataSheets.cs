using AnchorBend.Design.Machines;
using AnchorBend.Language;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Parts;

/// <summary>The figures that a part's data sheet may give.</summary>
public sealed record DataSheetView(IReadOnlyList<SheetFigure> Figures);

/// <summary>A value for a parameter of a part, as it is typed into its field.</summary>
/// <param name="From">What it was computed from.</param>
/// <param name="Doubt">What other figures would say; null where none disagrees.</param>
public sealed record DataSheetValue(string Parameter, string Text, string From, string? Doubt);

/// <param name="Values">What the figures are enough for.</param>
/// <param name="Problems">Figures that cannot be read, with the reason, by name.</param>
public sealed record DataSheetAnswer(IReadOnlyList<DataSheetValue> Values, IReadOnlyDictionary<string, string> Problems);

/// <summary>Turns figures of data sheets into parameters of parts.</summary>
public static class DataSheets
{
    /// <exception cref="NotFoundException">There is no such data sheet.</exception>
    public static DataSheetView Of(string kind) => new(Sheet(kind).Figures);

    /// <param name="typed">Figures as they are typed, by name; empty ones are not given.</param>
    /// <exception cref="NotFoundException">There is no such data sheet.</exception>
    public static DataSheetAnswer Answer(string kind, IReadOnlyDictionary<string, string?> typed)
    {
        var sheet = Sheet(kind);
        var (given, problems) = (new Dictionary<string, double>(), new Dictionary<string, string>());
        foreach (var figure in sheet.Figures)
        {
            if (!typed.TryGetValue(figure.Name, out var text) || string.IsNullOrWhiteSpace(text))
                continue;
            if (Number(text, figure) is { } number)
                given[figure.Name] = number;
            else
                problems[figure.Name] = $"'{DocumentLimits.Short(text)}' is no {Wanted(figure)}.";
        }

        return new DataSheetAnswer(
            [.. sheet.Compute(new SheetFigures(given)).Select(v => new DataSheetValue(v.Parameter, Text(v), v.From, v.Doubt))],
            problems
        );
    }

    static string Wanted(SheetFigure figure) =>
        figure.Unit is { } unit ? $"number greater than zero in {unit}" : "whole number greater than zero";

    static DataSheet Sheet(string kind) =>
        MachineSheets.All.GetValueOrDefault(kind)
        ?? throw new NotFoundException($"There is no data sheet of the kind '{DocumentLimits.Short(kind)}'.");

    /// <summary>A figure in coherent units; null where it is no positive number, or its unit does not fit.</summary>
    static double? Number(string text, SheetFigure figure)
    {
        var unit = figure.Unit is null ? null : Unit.Parse(figure.Unit);
        // A bare number is meant in the unit of the figure.
        var value = TypedValue.Number(text, unit);
        if (value is not ({ } number and > 0) || !double.IsFinite(number))
            return null;
        if (unit is null)
            return double.IsInteger(number) ? number : null;
        return unit.ConvertTo(unit.Coherent(), number);
    }

    static string Text(SheetValue value)
    {
        var unit = value.Unit.Length == 0 ? null : Unit.Parse(value.Unit);
        return unit is null
            ? Math.Round(value.Value).ToString(System.Globalization.CultureInfo.InvariantCulture)
            : TypedValue.InUnitOf($"1 {value.Unit}", value.Value, unit);
    }
}
