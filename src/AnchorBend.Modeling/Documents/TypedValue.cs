using System.Globalization;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;

namespace AnchorBend.Modeling.Documents;

/// <summary>Numbers that are computed, as texts for fields.</summary>
public static class TypedValue
{
    /// <summary>A number as the text of a field, in the unit of the text that stood there; without one, a bare number.</summary>
    /// <param name="own">The unit that the number is in; null for the coherent one of the text's unit.</param>
    public static string InUnitOf(string? before, double value, Unit? own)
    {
        string Written(double number) =>
            double.Parse(number.ToString("G10", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture)
                .ToString("R", CultureInfo.InvariantCulture);
        try
        {
            if (
                before is not null
                && Parser.ParseField(before) is Quantity { Unit: var unit }
                && (own ?? unit.Coherent()) is var from
                && from.Fits(unit)
            )
                return $"{Written(from.ConvertTo(unit, value))} {unit.Symbol}";
        }
        catch (LanguageException)
        {
            // What could not be read has no unit to keep.
        }

        return Written(value);
    }
}
