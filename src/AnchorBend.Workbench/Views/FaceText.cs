using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Views;

/// <summary>What stands on the plate of a part.</summary>
static class FaceText
{
    /// <summary>Letters of a value with its unit that a face has room for.</summary>
    const int LongestFace = 10;

    /// <summary>Letters of an expression that a face has room for.</summary>
    const int LongestExpression = 14;

    /// <summary>Mathematics with its fractions written with a stroke.</summary>
    static string OnOneLine(string tex)
    {
        for (var at = tex.IndexOf(@"\frac{", StringComparison.Ordinal); at >= 0; at = tex.IndexOf(@"\frac{", StringComparison.Ordinal))
        {
            var over = Closing(tex, at + 5);
            var under = Closing(tex, over + 1);
            tex = $"{tex[..at]}{Whole(tex[(at + 6)..over])}/{Whole(tex[(over + 2)..under])}{tex[(under + 1)..]}";
        }

        return tex;
    }

    /// <summary>What stands above or under a stroke of a fraction, in brackets unless it is one name or number.</summary>
    static string Whole(string tex) =>
        tex.AsSpan().IndexOfAny("+-/ *") >= 0 || tex.Contains(@"\cdot", StringComparison.Ordinal) ? $"({tex})" : tex;

    /// <summary>Where the brace that opens at a place closes.</summary>
    static int Closing(string tex, int open)
    {
        var depth = 0;
        for (var i = open; ; i++)
            if (
                (
                    depth +=
                        tex[i] == '{' ? 1
                        : tex[i] == '}' ? -1
                        : 0
                ) == 0
            )
                return i;
    }

    /// <summary>The part's face with the symbols of its parameters, and dots for what is chosen.</summary>
    public static string Symbols(PartDescription description) =>
        System.Text.RegularExpressions.Regex.Replace(description.Face, "<<(.+?)>>", match =>
            Polynomial(match.Groups[1].Value, description.Default)
            ?? (
                description.Parameters.FirstOrDefault(p => p.Name == match.Groups[1].Value) is { Choices: not null }
                    ? "…"
                    : EquationMath.Name(match.Groups[1].Value)
            )
        );

    /// <summary>What stands for a parameter and a variable, as b(s): the polynomial with those coefficients, or its name where that is
    /// long. Null for other texts.</summary>
    static string? Polynomial(string named, Func<string, string> textOf) =>
        named is [.., '(', var variable, ')'] && named[..^3] is var list
            ? PolynomialText.Of(textOf(list), variable.ToString()) ?? $"{EquationMath.Name(list)}({variable})"
            : null;

    /// <summary>The part's face with the values typed for its parameters, or their symbols where those are long.</summary>
    public static string Of(PartDescription description, PartNode part) =>
        System.Text.RegularExpressions.Regex.Replace(description.Face, "<<(.+?)>>", match =>
        {
            if (Polynomial(match.Groups[1].Value, p => part.Parameters.GetValueOrDefault(p, description.Default(p))) is { } polynomial)
                return polynomial;
            var parameter = description.Parameters.FirstOrDefault(p => p.Name == match.Groups[1].Value);
            if (parameter is null)
                return match.Groups[1].Value;
            var text = part.Parameters.GetValueOrDefault(parameter.Name, parameter.Default);
            if (parameter.Choices is { } choices)
                return (
                    choices.FirstOrDefault(c => c.Value == text) is { } choice
                        ? description.Traits.ChoiceWords && choice.Description is { } words
                            ? words
                            : choice.Name
                        : text
                ).Replace("_", " ", StringComparison.Ordinal);
            try
            {
                var expression = Parser.ParseField(text);
                if (parameter.Unit is not null && expression is NumberLiteral)
                    return EquationMath.Print(expression);
                return text.Length > (parameter.Type == "Formula" ? 24 : LongestExpression) && expression is not Quantity
                        ? EquationMath.Name(parameter.Name)
                    // A fraction within a fraction would be too small to read.
                    : expression is not Quantity q
                        ? description.Face.Contains(@"\frac", StringComparison.Ordinal) ? OnOneLine(EquationMath.Print(expression))
                            : EquationMath.Print(expression)
                    : !double.IsNaN(Converted(q, parameter.Unit))
                        ? Converted(q, parameter.Unit).ToString("G4", System.Globalization.CultureInfo.InvariantCulture)
                    : text.Length <= LongestFace ? EquationMath.Print(expression)
                    // The unit stands in the inspector; a face is better short than cut.
                    : q.Value is NumberLiteral ? EquationMath.Print(q.Value)
                    : EquationMath.Name(parameter.Name);
            }
            catch (LanguageException)
            {
                return "?";
            }
        });

    /// <summary>A text with what is typed for the parameters that it names in double angle brackets.</summary>
    static string WithTexts(string text, PartDescription description, PartNode part) =>
        System.Text.RegularExpressions.Regex.Replace(text, "<<(.+?)>>", match => description.Parameters.FirstOrDefault(p =>
                p.Name == match.Groups[1].Value
            )
                is not { } parameter
                ? match.Groups[1].Value
            : part.Parameters.GetValueOrDefault(parameter.Name, parameter.Default) is var typed
            && parameter.Choices?.FirstOrDefault(c => c.Value == typed) is { } choice
                ? choice.Name
            : typed);

    /// <summary>The part's drawn symbol with the texts typed for its parameters, or its picture; null where it has neither.</summary>
    public static DrawingView? Drawing(PartDescription description, PartNode part) =>
        description.Drawn is not { } face
            ? null
            : new DrawingView(
                face.Sketch?.Select(s => s with { Text = s.Text is null ? null : WithTexts(s.Text, description, part) }).ToList(),
                face.Picture
            );

    static double Converted(Quantity q, string? unit) =>
        q.Value is NumberLiteral n && unit is not null && Unit.TryParse(unit, out var declared, out _) && declared.Fits(q.Unit)
            ? q.Unit.ConvertTo(declared, n.Value)
            : double.NaN;
}
