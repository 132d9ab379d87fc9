using System.Globalization;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Workbench.Coverage;

/// <summary>What an expression in the text of a class says, as it is written and in words.</summary>
/// <param name="Text">As it is written.</param>
/// <param name="Yes">What never came where it never held.</param>
/// <param name="No">What never came where it always held.</param>
sealed record ConditionText(string Text, string Yes, string No)
{
    const int Longest = 80;

    static readonly Dictionary<BinaryKind, (string Holds, string Not, bool Rises)> Words = new()
    {
        [BinaryKind.Greater] = ("above", "at or below", true),
        [BinaryKind.GreaterOrEqual] = ("at or above", "below", true),
        [BinaryKind.Less] = ("below", "at or above", false),
        [BinaryKind.LessOrEqual] = ("at or below", "above", false),
    };

    /// <summary>Of a relation: what never came where it never came to hold.</summary>
    public string Up { get; private init; } = "";

    /// <summary>Of a relation: what never came where it never came not to hold any more.</summary>
    public string Down { get; private init; } = "";

    /// <summary>The expression itself; null where none is known, or it stands in a function, whose names mean nothing outside.</summary>
    public Expression? Expression { get; private init; }

    /// <summary>The conditions that it puts together, as they are written from left to right.</summary>
    public IReadOnlyList<string> Conditions { get; private init; } = [];

    /// <summary>Those of a class by their places.</summary>
    /// <param name="definition">Null where nobody knows it.</param>
    public static IReadOnlyDictionary<(int Line, int Column), ConditionText> Of(ClassDefinition? definition)
    {
        if (definition is null)
            return new Dictionary<(int, int), ConditionText>();
        var told = definition
            .Elements.OfType<ComponentDeclaration>()
            .GroupBy(c => c.Name)
            .ToDictionary(g => g.Key, g => g.First().Description);
        var all = new Dictionary<(int, int), ConditionText>();
        foreach (var expression in ClassExpressions.In(definition))
            all.TryAdd(
                (expression.At.Line, expression.At.Column),
                Of(expression, told) with
                {
                    Expression = definition.Kind == ClassKind.Function ? null : expression,
                }
            );
        return all;
    }

    /// <summary>What stands in a line that holds no such expression.</summary>
    public static ConditionText OfLine(int line) =>
        new($"line {line}", $"never held in line {line}", $"always held in line {line}")
        {
            Up = $"never came to hold in line {line}",
            Down = $"never came not to hold any more in line {line}",
        };

    static ConditionText Of(Expression expression, Dictionary<string, string?> told)
    {
        var text = ExpressionText.Print(expression);
        if (expression is Binary { Kind: var kind, Left: var left, Right: var right } && Words.TryGetValue(kind, out var words))
        {
            var (a, b) = (Said(left, told), Said(right, told));
            var (rises, falls) = ($"{a} never rises past {b}", $"{a} never falls past {b}");
            return new ConditionText(text, $"{a} never {words.Holds} {b}", $"{a} never {words.Not} {b}")
            {
                Up = words.Rises ? rises : falls,
                Down = words.Rises ? falls : rises,
            };
        }

        if (text.Length > Longest)
            text = text[..(Longest - 1)] + "…";
        // A truth by its name is read better by what it says.
        var said = expression is Reference ? Said(expression, told) : text;
        return new ConditionText(text, $"never: {said}", $"always: {said}")
        {
            Up = $"never comes to hold: {said}",
            Down = $"never comes not to hold any more: {said}",
            Conditions = [.. ConditionsOf(expression).Select(e => Said(e, told))],
        };
    }

    static IEnumerable<Expression> ConditionsOf(Expression expression) =>
        expression switch
        {
            Binary { Kind: BinaryKind.And or BinaryKind.Or } b => ConditionsOf(b.Left).Concat(ConditionsOf(b.Right)),
            Unary { Kind: UnaryKind.Not } u => ConditionsOf(u.Operand),
            _ => [expression],
        };

    /// <summary>What never came where a table was never read between two knots.</summary>
    public static string Between(double from, double to) =>
        string.Create(CultureInfo.InvariantCulture, $"never between {from:G6} and {to:G6}");

    /// <summary>A name by its description, where that is short; else as it is written.</summary>
    static string Said(Expression expression, Dictionary<string, string?> told) =>
        expression is Reference { Parts: [{ Subscripts.Count: 0 } part] }
        && told.GetValueOrDefault(part.Name) is { Length: > 0 and < 40 } description
        && !description.Contains(',', StringComparison.Ordinal)
            ? char.ToLowerInvariant(description[0]) + description[1..]
        : expression is Reference { Parts: [{ Subscripts.Count: 0 } only] } ? only.Name
        : ExpressionText.Print(expression);
}
