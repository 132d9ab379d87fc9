using System.Globalization;

namespace AnchorBend.Language.Units;

/// <summary>
/// A unit: <c>value in coherent SI = value · Factor + Offset</c>. Written with the standard's syntax (<c>N.m</c>, <c>kg.m2/s</c>,
/// <c>J/(kg.K)</c>); <c>·</c>, <c>*</c>, <c>^</c>, <c>²</c>, <c>µ</c> and <c>°C</c> are read too.
/// </summary>
public sealed record Unit(string Symbol, Dimension Dimension, double Factor, double Offset, int Angle, bool Cycles)
{
    public static readonly Unit One = new("1", Dimension.None, 1, 0, 0, false);

    /// <summary>Whether values can be converted between the two.</summary>
    public bool Fits(Unit other) => Dimension == other.Dimension;

    /// <summary>Converts a number given in this unit; both must have the same dimension. Hertz and radians per second differ by
    /// 2π.</summary>
    public double ConvertTo(Unit target, double value) => (value * Factor * CycleFactor(target) + Offset - target.Offset) / target.Factor;

    /// <summary>Scale and shift of <see cref="ConvertTo"/>: <c>converted = value · Scale + Shift</c>.</summary>
    public (double Scale, double Shift) ConversionTo(Unit target) =>
        (Factor * CycleFactor(target) / target.Factor, (Offset - target.Offset) / target.Factor);

    double CycleFactor(Unit target) =>
        Cycles && target.Angle == 1 ? 2 * Math.PI
        : target.Cycles && Angle == 1 ? 1 / (2 * Math.PI)
        : 1;

    /// <summary>The SI unit of the same quantity, in which calculations run.</summary>
    public Unit Coherent()
    {
        if (Factor == 1 && Offset == 0)
            return this;
        var symbol = UnitTable
            .OfDimension(Dimension)
            .FirstOrDefault(s => Parse(s) is { Factor: 1, Offset: 0 } u && u.Angle == Angle && u.Cycles == Cycles);
        return new Unit(symbol ?? Dimension.ToString(), Dimension, 1, 0, Angle, Cycles);
    }

    /// <summary>How the unit is shown: <c>N·m</c>, <c>m/s²</c>, <c>°C</c>; empty for 1.</summary>
    public static string Pretty(string symbol)
    {
        if (symbol is "1" or "")
            return "";
        var text = symbol
            .Replace('.', '·')
            .Replace("degC", "°C", StringComparison.Ordinal)
            .Replace("degF", "°F", StringComparison.Ordinal)
            .Replace("deg", "°", StringComparison.Ordinal)
            .Replace("Ohm", "Ω", StringComparison.Ordinal);
        var result = new System.Text.StringBuilder(text.Length);
        for (var i = 0; i < text.Length; i++)
        {
            var afterLetter = i > 0 && (char.IsLetter(text[i - 1]) || text[i - 1] is '²' or '³');
            result.Append(
                afterLetter
                    ? text[i] switch
                    {
                        '2' => '²',
                        '3' => '³',
                        '4' => '⁴',
                        _ => text[i],
                    }
                    : text[i]
            );
        }

        return result.ToString();
    }

    /// <summary>Parses a unit.</summary>
    /// <exception cref="FormatException">The text is not a unit.</exception>
    public static Unit Parse(string text) => TryParse(text, out var unit, out var problem) ? unit : throw new FormatException(problem);

    public static bool TryParse(string text, out Unit unit, out string problem)
    {
        unit = One;
        var normal = text.Trim()
            .Replace("·", ".", StringComparison.Ordinal)
            .Replace("*", ".", StringComparison.Ordinal)
            .Replace("²", "2", StringComparison.Ordinal)
            .Replace("³", "3", StringComparison.Ordinal)
            .Replace("⁴", "4", StringComparison.Ordinal)
            .Replace("µ", "u", StringComparison.Ordinal)
            .Replace("°C", "degC", StringComparison.Ordinal)
            .Replace("°F", "degF", StringComparison.Ordinal)
            .Replace("°", "deg", StringComparison.Ordinal)
            .Replace("Ω", "Ohm", StringComparison.Ordinal)
            .Replace("^", "", StringComparison.Ordinal);
        if (normal.Length == 0)
        {
            problem = "A unit is needed.";
            return false;
        }

        if (normal.Length > 80)
        {
            problem = "That is too long for a unit.";
            return false;
        }

        var position = 0;
        if (!Quotient(normal, ref position, out var result, out problem))
            return false;
        if (position < normal.Length)
        {
            problem = $"'{text.Trim()}' is not a unit: '{normal[position..]}' is left over.";
            return false;
        }

        unit = result with { Symbol = normal };
        return true;
    }

    static bool Quotient(string text, ref int position, out Unit unit, out string problem)
    {
        if (!Product(text, ref position, out unit, out problem))
            return false;
        if (position >= text.Length || text[position] != '/')
            return true;
        position++;
        if (!Factors(text, ref position, out var below, out problem))
            return false;
        unit = unit.Times(below, -1);
        if (position >= text.Length || text[position] != '/')
            return true;
        problem = $"'{text}' has two strokes; write the denominator in brackets, as in W/(m2.K).";
        return false;
    }

    static bool Product(string text, ref int position, out Unit unit, out string problem)
    {
        if (!Factors(text, ref position, out unit, out problem))
            return false;
        while (position < text.Length && text[position] == '.')
        {
            position++;
            if (!Factors(text, ref position, out var next, out problem))
                return false;
            unit = unit.Times(next, 1);
        }

        return true;
    }

    static bool Factors(string text, ref int position, out Unit unit, out string problem)
    {
        unit = One;
        problem = "";
        if (position < text.Length && text[position] == '(')
        {
            position++;
            if (!Product(text, ref position, out unit, out problem))
                return false;
            if (position >= text.Length || text[position] != ')')
            {
                problem = $"'{text}' has no closing bracket.";
                return false;
            }

            position++;
            return true;
        }

        var start = position;
        if (position < text.Length && text[position] is '1' or '%')
        {
            position++;
        }
        else
        {
            while (position < text.Length && char.IsLetter(text[position]))
                position++;
        }

        var symbol = text[start..position];
        if (!Symbolic(symbol, out unit))
        {
            problem = symbol.Length == 0 ? $"'{text}' is not a unit." : $"'{symbol}' is not a known unit.";
            return false;
        }

        var sign = 1;
        var digits = position;
        if (position < text.Length && text[position] is '-' or '+')
        {
            sign = text[position] == '-' ? -1 : 1;
            digits = ++position;
        }

        while (position < text.Length && char.IsAsciiDigit(text[position]))
            position++;
        if (position == digits)
            return true;
        if (!int.TryParse(text[digits..position], NumberStyles.None, CultureInfo.InvariantCulture, out var exponent) || exponent > 12)
        {
            problem = $"The exponent in '{text}' is too large.";
            return false;
        }

        unit = One.Times(unit, sign * exponent);
        return true;
    }

    static bool Symbolic(string symbol, out Unit unit)
    {
        unit = One;
        if (UnitTable.Entries.TryGetValue(symbol, out var entry))
        {
            unit = new Unit(symbol, entry.Dimension, entry.Factor, entry.Offset, entry.Angle, entry.Cycles);
            return true;
        }

        foreach (var length in (ReadOnlySpan<int>)[1, 2])
        {
            if (symbol.Length <= length || !UnitTable.Prefixes.TryGetValue(symbol[..length], out var prefix))
                continue;
            if (!UnitTable.Entries.TryGetValue(symbol[length..], out entry) || !entry.Prefixes)
                continue;
            unit = new Unit(symbol, entry.Dimension, entry.Factor * prefix, 0, entry.Angle, entry.Cycles);
            return true;
        }

        return false;
    }

    /// <summary>Product with a power of another unit. Offsets are lost: a temperature inside a product is a difference.</summary>
    Unit Times(Unit other, int exponent)
    {
        if (Symbol == "1" && exponent == 1)
            return other;
        return new Unit(
            "",
            Dimension * other.Dimension.Power(exponent),
            Factor * Math.Pow(other.Factor, exponent),
            0,
            Angle + exponent * other.Angle,
            Cycles && other.Dimension.IsNone
        );
    }
}
