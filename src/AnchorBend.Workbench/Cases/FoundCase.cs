using System.Text.Json;
using System.Text.Json.Serialization;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Studies;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Cases;

/// <summary>A row of a study as a case, so that what a search has found is run again with all others.</summary>
public static class FoundCase
{
    static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
    };

    /// <param name="present">The model that gets the case.</param>
    /// <param name="row">Targets with what was set, as typed.</param>
    /// <param name="requirement">The one that it is about; null for all.</param>
    /// <exception cref="DocumentException">Something that the row sets is not in the model any more.</exception>
    public static ActionView Of(ModelDocument present, string name, IReadOnlyList<(string Target, string Text)> row, string? requirement)
    {
        var operations = new List<PatchOperation>();
        var node = new CaseNode
        {
            Name = name,
            Order = present.Cases.Values.Select(c => c.Order).DefaultIfEmpty().Max() + 1,
            Requirements = requirement is not null && present.Requirements.ContainsKey(requirement) ? [requirement] : null,
        };
        var set = present;
        foreach (var (target, text) in row)
        {
            if (RowSettings.IsOne(target))
                set = RowSettings.Set(set, target, text);
            if (target == RowSettings.End)
                node = node with { End = text };
            else if (target == RowSettings.Stimulus)
                node = node with { Stimulus = set.Settings.Stimulus };
            else if (target == RowSettings.Point)
                node = node with { Point = set.Settings.Point };
            else if (TrackPoint.Parse(target) is null)
                node.Values[$"v{node.Values.Count + 1}"] = new CaseValueNode
                {
                    Target = target,
                    Text = text,
                    Order = node.Values.Count + 1,
                };
        }

        // A stimulus that the row has changed becomes one of its own; that of the model stays as it is.
        var drawn = node.Stimulus ?? present.Settings.Stimulus;
        if (row.Any(r => TrackPoint.Parse(r.Target)?.Stimulus == drawn))
        {
            var id = Free("s", present.Stimuli.ContainsKey);
            operations.Add(Add("stimuli", id, set.Stimuli[drawn] with { Name = $"{present.Stimuli[drawn].Name}, {name}" }));
            node = node with { Stimulus = id };
        }

        operations.Add(Add("cases", Free("c", present.Cases.ContainsKey), node));
        return new ActionView($"Make the case {name}", operations);
    }

    static PatchOperation Add<T>(string collection, string id, T value) =>
        new("add", DocumentPath.Of(collection, id), JsonSerializer.SerializeToNode(value, Json));

    static string Free(string prefix, Func<string, bool> isTaken)
    {
        var n = 1;
        while (isTaken(prefix + n))
            n++;
        return prefix + n;
    }
}
