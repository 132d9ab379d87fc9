using AnchorBend.Language;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Documents;

/// <summary>One realisation of a slot: its name and the parts that are in the model only while it is chosen.</summary>
public sealed record Alternative(string Name, IReadOnlyList<string> Parts);

/// <summary>
/// Levels that are slots: one interface, several realisations, of which a parameter chooses one by its name. The parts of a realisation
/// carry the condition that the parameter has this name, so that nothing but conditions makes a slot what it is.
/// </summary>
public static class Slots
{
    /// <summary>The name that the parameter which chooses has where nobody gave it another.</summary>
    public const string Chooser = "alternative";

    /// <summary>The realisations in the order of the choices; nothing for other levels.</summary>
    public static IReadOnlyList<Alternative> Of(DiagramDefinition diagram)
    {
        if (diagram.Slot is not { } chooser || !diagram.Parameters.TryGetValue(chooser, out var parameter))
            return [];
        var parts = diagram
            .Parts.Where(p => p.Value.OnlyWhen is { Length: > 0 })
            .Select(p => (Name: ChosenBy(p.Value.OnlyWhen!, chooser), p.Key))
            .ToLookup(p => p.Name, p => p.Key);
        return [.. (parameter.Choices ?? []).Select(c => new Alternative(c.Name, [.. parts[c.Name]]))];
    }

    /// <summary>The condition of what belongs to an alternative.</summary>
    public static string Condition(string chooser, string alternative) => $"{ExpressionText.Name(chooser)} == {Words(alternative)}";

    /// <summary>A name as a value.</summary>
    public static string Words(string name) => ExpressionText.Print(new StringLiteral(name, default));

    /// <summary>The name that a value says; null for an expression.</summary>
    public static string? NameIn(string value)
    {
        try
        {
            return (Parser.ParseField(value) as StringLiteral)?.Value;
        }
        catch (LanguageException)
        {
            return null;
        }
    }

    /// <summary>The alternative that a condition asks for, perhaps besides other conditions.</summary>
    static string? ChosenBy(string condition, string chooser)
    {
        try
        {
            return In(Parser.ParseField(condition));
        }
        catch (LanguageException)
        {
            return null;
        }

        string? In(Expression e) =>
            e switch
            {
                Binary { Kind: BinaryKind.And } both => In(both.Left) ?? In(both.Right),
                Binary { Kind: BinaryKind.Equal, Left: Reference r, Right: StringLiteral name } when r.Path == chooser => name.Value,
                Binary { Kind: BinaryKind.Equal, Left: StringLiteral name, Right: Reference r } when r.Path == chooser => name.Value,
                _ => null,
            };
    }
}
