using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Workbench.Coverage;

/// <summary>What a condition in the text of a class says, as it is written and in words.</summary>
/// <param name="Text">As it is written.</param>
/// <param name="Yes">What never came where it never held.</param>
/// <param name="No">What never came where it always held.</param>
sealed record ConditionText(string Text, string Yes, string No)
{
    static readonly Dictionary<BinaryKind, (string Holds, string Not)> Words = new()
    {
        [BinaryKind.Greater] = ("above", "at or below"),
        [BinaryKind.GreaterOrEqual] = ("at or above", "below"),
        [BinaryKind.Less] = ("below", "at or above"),
        [BinaryKind.LessOrEqual] = ("at or below", "above"),
    };

    /// <summary>Those of a class by their places.</summary>
    public static IReadOnlyDictionary<(int Line, int Column), ConditionText> Of(string type, IClassSource classes)
    {
        if (classes.Find(type) is not { } definition)
            return new Dictionary<(int, int), ConditionText>();
        var told = definition
            .Elements.OfType<ComponentDeclaration>()
            .GroupBy(c => c.Name)
            .ToDictionary(g => g.Key, g => g.First().Description);
        var all = new Dictionary<(int, int), ConditionText>();
        foreach (var expression in ClassExpressions.In(definition))
            all.TryAdd((expression.At.Line, expression.At.Column), Of(expression, told));
        return all;
    }

    static ConditionText Of(Expression expression, Dictionary<string, string?> told)
    {
        var text = ExpressionText.Print(expression);
        if (expression is Binary { Kind: var kind, Left: var left, Right: var right } && Words.TryGetValue(kind, out var words))
        {
            var (a, b) = (Said(left, told), Said(right, told));
            return new ConditionText(text, $"{a} never {words.Holds} {b}", $"{a} never {words.Not} {b}");
        }

        // A truth by its name is read better by what it says.
        var said = expression is Reference ? Said(expression, told) : text;
        return new ConditionText(text, $"never: {said}", $"always: {said}");
    }

    /// <summary>A name by its description, where that is short; else as it is written.</summary>
    static string Said(Expression expression, Dictionary<string, string?> told) =>
        expression is Reference { Parts: [{ Subscripts.Count: 0 } part] }
        && told.GetValueOrDefault(part.Name) is { Length: > 0 and < 40 } description
        && !description.Contains(',', StringComparison.Ordinal)
            ? char.ToLowerInvariant(description[0]) + description[1..]
            : ExpressionText.Print(expression);
}
