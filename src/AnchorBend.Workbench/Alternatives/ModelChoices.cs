using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Workbench.Alternatives;

/// <summary>One value that a choice can have.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Text">The value as it would be typed.</param>
public sealed record ChoiceValue(string Name, string Text);

/// <summary>Something about a model that is chosen: which realisation of a slot is in, whether an option is.</summary>
/// <param name="Path">The parameter in the flat model.</param>
/// <param name="Name">What is chosen, in words.</param>
/// <param name="Kind">slot, option or sheet.</param>
/// <param name="Part">The slot's part by ids from the root down; null for others.</param>
/// <param name="Present">The name of the value that the model has now.</param>
public sealed record ModelChoice(string Path, string Name, string Kind, string? Part, IReadOnlyList<ChoiceValue> Values, string Present);

/// <summary>All that can be chosen about a model as it is put together now.</summary>
public static class ModelChoices
{
    const string Yes = "with",
        No = "without";

    public static IReadOnlyList<ModelChoice> Of(PreparedModel prepared, ModelDocument document)
    {
        var (model, map) = (prepared.Model, prepared.Map);
        var choices = new List<ModelChoice>();
        foreach (var (path, name, diagram) in map.Levels)
            if (diagram.Slot is { } chooser && model.Words.TryGetValue($"{name}.{chooser}", out var present))
                choices.Add(
                    new ModelChoice(
                        $"{name}.{chooser}",
                        name,
                        "slot",
                        path.ToString(),
                        [.. Slots.Of(diagram).Select(a => new ChoiceValue(a.Name, Slots.Words(a.Name)))],
                        present
                    )
                );
        var levels = map.Levels.Select(l => l.Name).ToHashSet();
        foreach (var variable in model.Variables)
            if (IsOption(variable, levels))
                choices.Add(
                    new ModelChoice(
                        variable.Name,
                        variable.Name,
                        "option",
                        null,
                        [new ChoiceValue(No, "false"), new ChoiceValue(Yes, "true")],
                        ((ConstantTerm)variable.Binding!).Value != 0 ? Yes : No
                    )
                );
        return choices;
    }

    /// <summary>A named parameter of a drawn level that is true or false, is given, and decides what the model consists of.</summary>
    static bool IsOption(FlatVariable variable, HashSet<string> levels) =>
        variable is { Role: VariableRole.Parameter, IsStructural: true, Type: ScalarType.Boolean, Binding: ConstantTerm }
        && levels.Contains(variable.Owner);
}
