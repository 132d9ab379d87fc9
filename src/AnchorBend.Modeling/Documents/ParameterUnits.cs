using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// Named parameters in fields mean their quantity, in whatever unit they are declared: in an expression they stand with their value in the
/// coherent unit, and what is computed from them is brought to the unit of the field. A number typed alone is in the unit of its field.
/// </summary>
public sealed class ParameterUnits(NamesFromAbove above)
{
    /// <summary>A field of a level as it is computed.</summary>
    /// <param name="definition">The level's definition.</param>
    /// <param name="unit">The unit of the field as declared; null where it has none.</param>
    public Expression Meant(string definition, Expression field, string? unit)
    {
        if (field is Reference { Parts: [{ Subscripts.Count: 0 } alone] } && above.UnitOf(definition, alone.Name) == unit)
            return field;
        var isComputed = false;
        var coherent = References.With(field, r =>
        {
            isComputed = true;
            return r.Parts is [{ Subscripts.Count: 0 } only] && Conversion(above.UnitOf(definition, only.Name)) is { } to
                ? Scaled(r, to.Scale, to.Shift)
                : r;
        });
        if (!isComputed)
            return field;
        return Conversion(unit) is { } own ? Unscaled(coherent, own.Scale, own.Shift) : coherent;
    }

    /// <summary>How a value in a unit comes to its coherent one; null where they are the same or there is no such unit.</summary>
    static (double Scale, double Shift)? Conversion(string? symbol)
    {
        if (symbol is not { Length: > 0 } || !Unit.TryParse(symbol, out var unit, out _))
            return null;
        var conversion = unit.ConversionTo(unit.Coherent());
        return conversion == (1, 0) ? null : conversion;
    }

    static Expression Scaled(Expression value, double scale, double shift)
    {
        var scaled = scale == 1 ? value : new Binary(BinaryKind.Multiply, value, Number(scale), value.At);
        return shift == 0 ? scaled : new Binary(BinaryKind.Add, scaled, Number(shift), value.At);
    }

    static Expression Unscaled(Expression value, double scale, double shift)
    {
        var shifted = shift == 0 ? value : new Binary(BinaryKind.Subtract, value, Number(shift), value.At);
        return scale == 1 ? shifted : new Binary(BinaryKind.Divide, shifted, Number(scale), value.At);
    }

    internal static Expression Number(double value) =>
        value < 0
            ? new Unary(UnaryKind.Minus, new NumberLiteral(-value, false, default), default)
            : new NumberLiteral(value, false, default);
}
