using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;

namespace AnchorBend.Modeling.Flattening;

/// <summary>Elements of arrays chosen by subscripts (Modelica Language Specification 3.6, section 10.5).</summary>
static class Selection
{
    /// <summary>The elements that subscripts choose: whole numbers, ranges and colons.</summary>
    public static Value Of(
        Value value,
        ReferencePart part,
        Position at,
        Func<Expression, int?, Value> subscript,
        Func<Term, Position, double> constant
    )
    {
        if (part.Subscripts.Count > value.Shape.Length)
            throw new LanguageException(
                "shape",
                $"'{part.Name}' is {Value.ShapeText(value.Shape)}; it takes {value.Shape.Length} "
                    + $"subscript{(value.Shape.Length == 1 ? "" : "s")}.",
                at
            );
        if (Single(value, part, at, subscript, constant) is { } single)
            return single;
        var choices = new int[value.Shape.Length][];
        var shape = new List<int>();
        for (var d = 0; d < choices.Length; d++)
        {
            if (d >= part.Subscripts.Count || part.Subscripts[d] is WholeDimension)
            {
                choices[d] = [.. Enumerable.Range(1, value.Shape[d])];
                shape.Add(value.Shape[d]);
                continue;
            }

            var chosen = subscript(part.Subscripts[d], value.Shape[d]);
            if (!chosen.IsNumeric && chosen.Type != ScalarType.Enumeration)
                throw new LanguageException("type", "A subscript is a whole number.", part.Subscripts[d].At);
            choices[d] = [.. chosen.Elements.Select(t => Index(t, value.Shape[d], part, part.Subscripts[d].At, constant))];
            if (!chosen.IsScalar)
                shape.Add(choices[d].Length);
        }

        var total = choices.Aggregate(1, (n, c) => n * c.Length);
        var elements = new Term[total];
        for (var k = 0; k < total; k++)
        {
            var rest = k;
            var offset = 0;
            var stride = 1;
            for (var d = choices.Length - 1; d >= 0; d--)
            {
                offset += (choices[d][rest % choices[d].Length] - 1) * stride;
                rest /= choices[d].Length;
                stride *= value.Shape[d];
            }

            elements[k] = value.Elements[offset];
        }

        return value with
        {
            Shape = [.. shape],
            Elements = elements,
        };
    }

    /// <summary>One element, which is what subscripts mostly choose; null where they may choose more.</summary>
    static Value? Single(
        Value value,
        ReferencePart part,
        Position at,
        Func<Expression, int?, Value> subscript,
        Func<Term, Position, double> constant
    )
    {
        if (part.Subscripts.Count < value.Shape.Length)
            return null;
        var offset = 0;
        for (var d = 0; d < value.Shape.Length; d++)
        {
            // Ranges, colons and vectors choose several.
            if (part.Subscripts[d] is not (NumberLiteral or Binary or Reference))
                return null;
            var chosen = subscript(part.Subscripts[d], value.Shape[d]);
            if (!chosen.IsScalar || !chosen.IsNumeric)
                return null;
            offset = offset * value.Shape[d] + Index(chosen.Elements[0], value.Shape[d], part, part.Subscripts[d].At, constant) - 1;
        }

        return value with
        {
            Shape = [],
            Elements = [value.Elements[offset]],
        };
    }

    /// <summary>The whole number a subscript has, within the size.</summary>
    public static int Index(Term term, int size, ReferencePart part, Position at, Func<Term, Position, double> constant)
    {
        var number = constant(term, at);
        if (number != Math.Floor(number) || number < 1 || number > size)
            throw new LanguageException("shape", $"{part.Name}[{number:R}] is outside 1 to {size}.", at);
        return (int)number;
    }
}
