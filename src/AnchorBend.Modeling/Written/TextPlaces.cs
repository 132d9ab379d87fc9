using System.Globalization;
using System.Text.RegularExpressions;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;

namespace AnchorBend.Modeling.Written;

/// <summary>Where a text stands in a form.</summary>
/// <param name="Told">For people.</param>
/// <param name="Item">Id of the state, transition, rule, phase or name; null for the whole.</param>
readonly record struct TextPlace(string Told, string? Item);

/// <summary>
/// Texts that stand in a form, read where they stand: what is wrong in one is told with its place, and none can reach beyond it.
/// </summary>
sealed partial class TextPlaces
{
    /// <summary>Numbers with units so far, by the names of the constants that stand for them: in coherent units.</summary>
    readonly Dictionary<string, (double Value, string Unit)> quantities = [];

    /// <summary>Declarations of what stands for the numbers with units so far.</summary>
    public string Constants()
    {
        var lines = new System.Text.StringBuilder();
        foreach (var (name, (value, unit)) in quantities)
        {
            var own = ExpressionText.Name(name);
            lines.Append(FormattableString.Invariant($"constant Real {own}(unit = \"{unit}\") = {value:R};\n"));
        }

        return lines.ToString();
    }

    string Named(double value, Unit unit)
    {
        var coherent = unit.Coherent().Symbol;
        var number = value.ToString("R", CultureInfo.InvariantCulture);
        if (unit.Dimension.IsNone)
            return number;
        var name = $"{number} {coherent}";
        quantities[name] = (value, coherent);
        return ExpressionText.Name(name);
    }

    /// <summary>A condition or a value.</summary>
    /// <param name="since">The variable with the instant at which its state was entered.</param>
    /// <param name="before">Names that count as they were before the instant.</param>
    /// <exception cref="LanguageException">It is none.</exception>
    public string Expression(string text, TextPlace place, string since, IReadOnlySet<string>? before = null) => At(place, () =>
        {
            var expression = Parser.ParseExpression(WithElapsed(Parser.InCoherentUnits(text, Named), since));
            if (before is not null)
                expression = References.With(expression, r => before.Contains(r.Parts[0].Name) ? new Call("pre", [r], [], r.At) : r);
            var printed = $"({ExpressionText.Print(expression)})";
            return place.Item is { } item ? ItemMarks.Of(item, printed) : printed;
        });

    /// <summary>A length of time in seconds: an expression, with a unit of time or without one.</summary>
    /// <exception cref="LanguageException">It is none.</exception>
    public static string Seconds(string text, TextPlace place) => At(place, () =>
        {
            if (Parser.ParseField(text) is not Quantity quantity)
                return $"({ExpressionText.Print(Parser.ParseField(text))})";
            if (!quantity.Unit.Fits(Language.Units.Unit.Parse("s")))
                throw new LanguageException("unit", "A length of time is needed, such as 2 s.", quantity.At);
            var (value, factor) = (ExpressionText.Print(quantity.Value), quantity.Unit.Factor);
            return factor == 1 ? $"({value})" : $"({value}) * {factor.ToString("R", CultureInfo.InvariantCulture)}";
        });

    /// <summary>A length of time in seconds where it is a number; null where it is not known before the run.</summary>
    public static double? Length(string text)
    {
        try
        {
            return Parser.ParseField(text) switch
            {
                NumberLiteral n => n.Value,
                Quantity { Value: NumberLiteral n } q => n.Value * q.Unit.Factor,
                _ => null,
            };
        }
        catch (LanguageException)
        {
            return null;
        }
    }

    /// <summary>Statements, each with its end.</summary>
    /// <exception cref="LanguageException">They are none, or reach beyond their place.</exception>
    public string Statements(string text, TextPlace place, string since)
    {
        text = WithElapsed(Coherent(text.Trim(), place), since).TrimEnd(';', ' ', '\n');
        var (classes, errors) = Parser.ParseFile($"model X\nalgorithm\n{text}\n;\nend X;");
        if (errors.Count > 0)
            throw Wrong(place, new LanguageException(errors[0].Code, errors[0].Message, errors[0].At, errors[0].Suggestion));
        if (
            classes is not [{ Elements.Count: 0, Equations.Count: 0, InitialEquations.Count: 0, Algorithms: [{ Initial: false }] } only]
            || only.Annotation is not null
        )
            throw Wrong(place, new LanguageException("chart", "Only statements such as x := 1 may stand here.", default));
        text += "\n;\n";
        return place.Item is { } item ? ItemMarks.Of(item, text) : text;
    }

    [GeneratedRegex(@"\belapsed\s*\(\s*\)")]
    private static partial Regex Elapsed();

    static string WithElapsed(string text, string since) => Elapsed().Replace(text, $"(time - {since})");

    string Coherent(string text, TextPlace place) => At(place, () => Parser.InCoherentUnits(text, Named));

    static string At(TextPlace place, Func<string> read)
    {
        try
        {
            return read();
        }
        catch (LanguageException e)
        {
            throw Wrong(place, e);
        }
    }

    static LanguageException Wrong(TextPlace place, LanguageException e) =>
        new(e.Error with { Message = $"{place.Told}: {e.Error.Message}", Item = place.Item });
}
