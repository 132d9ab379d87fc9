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

    /// <summary>What was typed, with a unit or without, in a variable's unit; null where it is no number
    /// or its unit does not fit.</summary>
    /// <param name="own">The variable's unit; null where none is known, and then none may be typed.</param>
    public static double? Number(string text, Unit? own)
    {
        try
        {
            var expression = Parser.ParseField(text.Trim());
            var (scale, shift) = (1.0, 0.0);
            if (expression is Quantity quantity)
            {
                if (own is null || !quantity.Unit.Fits(own))
                    return null;
                (scale, shift) = quantity.Unit.ConversionTo(own);
                expression = quantity.Value;
            }

            return expression switch
            {
                NumberLiteral n => n.Value * scale + shift,
                Unary { Kind: UnaryKind.Minus, Operand: NumberLiteral n } => -n.Value * scale + shift,
                _ => null,
            };
        }
        catch (LanguageException)
        {
            return null;
        }
    }
}
