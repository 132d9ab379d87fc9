using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Workbench.Alternatives;

/// <summary>One value that a choice can have.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Text">The value as it would be typed.</param>
public sealed record ChoiceValue(string Name, string Text);

/// <summary>Something about a model that is chosen: which realisation of a slot is in, whether an option is.</summary>
/// <param name="Path">The parameter in the flat model.</param>
/// <param name="Name">What is chosen, in words.</param>
/// <param name="Kind">slot, option, or words for another parameter with choices.</param>
/// <param name="Part">The slot's part by ids from the root down; null for others.</param>
/// <param name="Present">The name of the value that the model has now.</param>
public sealed record ModelChoice(string Path, string Name, string Kind, string? Part, IReadOnlyList<ChoiceValue> Values, string Present);

/// <summary>
/// All that can be chosen about a model: slots of all levels, and the parameters with a given value that conditions depend on, whatever of
/// it is in the model now.
/// </summary>
public sealed class ModelChoices
{
    const string On = "on",
        Off = "off";

    readonly PreparedModel prepared;
    readonly ModelDocument document;
    readonly Dictionary<string, ModelChoice> found = [];
    readonly HashSet<(PartPath, string)> seen = [];

    ModelChoices(PreparedModel prepared, ModelDocument document) => (this.prepared, this.document) = (prepared, document);

    public static IReadOnlyList<ModelChoice> Of(PreparedModel prepared, ModelDocument document)
    {
        var choices = new ModelChoices(prepared, document);
        foreach (var (path, name, diagram) in prepared.Map.Levels)
        {
            if (diagram.Slot is { } chooser && diagram.Parameters.TryGetValue(chooser, out var parameter))
                choices.AddWords(path, $"{name}.{chooser}", name, "slot", parameter);
            foreach (var condition in diagram.Parts.Values.Select(p => p.OnlyWhen).OfType<string>())
            foreach (var spoken in ParameterUses.Names(condition))
                choices.Follow(path, spoken);
        }

        return [.. choices.found.Values.OrderBy(c => c.Kind != "slot")];
    }

    /// <summary>Follows a name to what is given: from the face of a level to what its use sets, from an expression to its names.</summary>
    void Follow(PartPath level, string name)
    {
        if (!seen.Add((level, name)) || document.Level(level)?.Diagram is not { } diagram || diagram.Slot == name)
            return;
        if (!diagram.Parameters.TryGetValue(name, out var parameter))
        {
            if (!level.IsRoot)
                Follow(level.Above, name);
            return;
        }

        var set = level.IsRoot || parameter.IsDerived ? null : document.Part(level)?.Part.Parameters.GetValueOrDefault(name);
        var path = prepared.Map.NameOf(level) is { Length: > 0 } outer ? $"{outer}.{name}" : name;
        var text = set ?? parameter.Value;
        switch (ParameterTypes.Of(text, _ => ParameterTypes.Real))
        {
            case ParameterTypes.Boolean when text.Trim() is "true" or "false":
                found[path] = new ModelChoice(
                    path,
                    path,
                    "option",
                    null,
                    [new ChoiceValue(Off, "false"), new ChoiceValue(On, "true")],
                    text.Trim() == "true" ? On : Off
                );
                break;
            case ParameterTypes.String when Slots.NameIn(text) is not null:
                AddWords(level, path, path, "words", parameter);
                break;
            default:
                foreach (var spoken in ParameterUses.Names(text))
                    Follow(set is null ? level : level.Above, spoken);
                break;
        }
    }

    void AddWords(PartPath level, string path, string name, string kind, ParameterNode parameter)
    {
        if (parameter.Choices is not { Count: > 0 } offered)
            return;
        var present = prepared.Model.Words.GetValueOrDefault(path) ?? Slots.NameIn(parameter.Value);
        found[path] = new ModelChoice(
            path,
            name,
            kind,
            kind == "slot" ? level.ToString() : null,
            [.. offered.Select(c => new ChoiceValue(c.Name, c.Value))],
            offered.Find(c => Slots.NameIn(c.Value) == present)?.Name ?? present ?? ""
        );
    }
}
