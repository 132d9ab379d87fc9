using System.Text.Json;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Documents;

/// <summary>What the class of a diagram tells the interface, in our vendor annotation.</summary>
public static class DiagramAnnotations
{
    /// <summary>Names within the annotation.</summary>
    public const string Face = "face",
        Choices = "choices",
        Shown = "shown",
        Group = "group",
        Condition = "condition",
        StandIn = "standsIn",
        Slot = "slot",
        Sheet = "sheet";

    /// <summary>The hidden parameter that says whether another is asked for.</summary>
    public static string Asked(string parameter) => $"{parameter} is asked";

    static readonly JsonSerializerOptions Json = DocumentJson.Options(false);

    internal static Modification OfLevel(FaceNode? face, double width, double height)
    {
        List<ModificationArgument> said =
        [
            Argument("width", new NumberLiteral(width, false, default)),
            Argument("height", new NumberLiteral(height, false, default)),
        ];
        if (face is not null)
            said.Add(Argument(Face, new ArrayLiteral([new StringLiteral(JsonSerializer.Serialize(face, Json), default)], default)));
        return Ours(said);
    }

    /// <summary>A parameter that is a row of a sheet, or chooses a column of one.</summary>
    internal static Modification OfSheet(IReadOnlyList<ChoiceNode>? choices)
    {
        List<ModificationArgument> said = [Argument(Sheet, new StringLiteral("true", default))];
        if (choices is not null)
            said.Add(ChoicesArgument(choices));
        return Ours(said);
    }

    static ModificationArgument ChoicesArgument(IEnumerable<ChoiceNode> choices) =>
        Argument(
            Choices,
            new ArrayLiteral([.. choices.Select(c => new StringLiteral(JsonSerializer.Serialize(c, Json), default))], default)
        );

    internal static Modification? OfParameter(ParameterNode parameter, string? shown)
    {
        var said = new List<ModificationArgument>();
        if (parameter.Group is { Length: > 0 } group)
            said.Add(Argument(Group, new StringLiteral(group, default)));
        if (shown is not null)
            said.Add(Argument(Shown, new StringLiteral(shown, default)));
        if (parameter.Choices is { Count: > 0 } choices)
            said.Add(ChoicesArgument(choices));
        return said.Count == 0 ? null : Ours(said);
    }

    /// <summary>What the class of a diagram says of the size and the mark of its parts, as text.</summary>
    public static IEnumerable<string> Look(ClassDefinition? definition)
    {
        var ours = definition?.Annotation?.Argument("__AnchorBend")?.Value;
        foreach (var name in (string[])["width", "height"])
            if (ours?.Argument(name)?.Value.Binding is NumberLiteral number)
                yield return $"{name} = {ExpressionText.Print(number)}";
        if (ours is not null && FaceOf(ours) is not ({ Formula.Length: > 0 } or { Sketch: not null } or { Picture: not null }))
            yield return $"symbol = \"{Mark}\"";
    }

    /// <summary>The mark of a level on its plate, where it has no face of its own.</summary>
    public const string Mark = "subsystem";

    /// <summary>What a text gives of a parameter beyond its declaration; null where it gives nothing.</summary>
    internal static ParameterNode? GivenOf(Modification? own)
    {
        try
        {
            return own?.Argument("given")?.Value.Binding is StringLiteral given
                ? JsonSerializer.Deserialize<ParameterNode>(given.Value, Json)
                : null;
        }
        catch (JsonException)
        {
            // A text may come from elsewhere.
            return null;
        }
    }

    /// <summary>The face that an annotation tells of; null where it tells of none.</summary>
    /// <param name="ours">Our part of a class's annotation.</param>
    public static FaceNode? FaceOf(Modification? ours) => Read<FaceNode>(ours, Face).FirstOrDefault();

    /// <summary>The choices that the annotation of a parameter tells of; null where it tells of none.</summary>
    internal static IReadOnlyList<ChoiceNode>? ChoicesOf(Modification? own) =>
        Read<ChoiceNode>(own, Choices).ToList() is { Count: > 0 } choices ? choices : null;

    /// <summary>What is written as JSON under a name; an annotation that says something else is left alone.</summary>
    static IEnumerable<T> Read<T>(Modification? ours, string name)
        where T : class
    {
        if (ours?.Argument(name)?.Value.Binding is not ArrayLiteral list)
            yield break;
        foreach (var entry in list.Elements.OfType<StringLiteral>())
        {
            T? read = null;
            try
            {
                read = JsonSerializer.Deserialize<T>(entry.Value, Json);
            }
            catch (JsonException)
            {
                // A text may come from elsewhere.
            }

            if (read is not null)
                yield return read;
        }
    }

    static ModificationArgument Argument(string name, Expression value) => new(name, Modification.Of(value), false, false, default);

    internal static Modification Ours(params (string Name, string Value)[] said) =>
        Ours([.. said.Select(s => Argument(s.Name, new StringLiteral(s.Value, default)))]);

    static Modification Ours(List<ModificationArgument> said) =>
        new([new ModificationArgument("__AnchorBend", new Modification(said, null), false, false, default)], null);
}
