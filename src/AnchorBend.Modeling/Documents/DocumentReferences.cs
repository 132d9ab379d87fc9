using System.Text.Json.Nodes;
using AnchorBend.Language;
using AnchorBend.Language.Rules;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// What a document says of its signals and parts elsewhere: requirements and parts at rest. They are kept by identity, so that renaming
/// breaks none; documents from before, and texts, name them.
/// </summary>
public static class DocumentReferences
{
    /// <summary>The code of findings about references to what is not there.</summary>
    public const string Code = "broken-reference";

    /// <summary>Puts identities in the places of names, as far as these are known in the root's diagram.</summary>
    public static void Identify(JsonNode document)
    {
        if (Text(document["root"]) is not { } root || (document["definitions"] as JsonObject)?[root] is not JsonObject main)
            return;
        if (main["parts"] is not JsonObject parts)
            return;
        Names? names = null;
        if (document["requirements"] is JsonObject requirements)
            foreach (var requirement in requirements.Select(r => r.Value).OfType<JsonObject>())
            foreach (var property in (string[])["signal", "reference"])
                if (
                    Text(requirement[property]) is { } text
                    && !IsKnown(text, parts)
                    && (names ??= new Names(main, parts)).Signal(text) is { } key
                )
                    requirement[property] = key;
        if (document["settings"] is not JsonObject settings || settings["steadyParts"] is not JsonArray resting)
            return;
        for (var i = 0; i < resting.Count; i++)
            if (Text(resting[i]) is { } name && !parts.ContainsKey(name) && (names ??= new Names(main, parts)).Part(name) is { } id)
                resting[i] = id;
    }

    /// <summary>Whether a text refers to a signal by identity: its first part is one of the root's diagram.</summary>
    static bool IsKnown(string text, JsonObject parts) =>
        SignalReference.TryParse(text, out var signal) && parts.ContainsKey(signal.Part.Steps[0]);

    static string? Text(JsonNode? node) => node is JsonValue value && value.TryGetValue<string>(out var text) ? text : null;

    /// <summary>Ids and keys by name.</summary>
    sealed class Names
    {
        readonly Dictionary<string, string> partIds = [],
            signalKeys = [];

        public Names(JsonObject main, JsonObject parts)
        {
            foreach (var (id, part) in parts)
                if (Text((part as JsonObject)?["name"]) is { } name)
                    partIds.TryAdd(name, id);
            foreach (var (key, signal) in main["signals"] as JsonObject ?? [])
                if (Text((signal as JsonObject)?["name"]) is { Length: > 0 } name)
                    signalKeys.TryAdd(name, key);
        }

        public string? Part(string name) => partIds.GetValueOrDefault(name);

        public string? Signal(string text)
        {
            if (signalKeys.TryGetValue(text, out var key))
                return key;
            // Names of parts may hold dots themselves.
            for (var dot = text.IndexOf('.', StringComparison.Ordinal); dot > 0; dot = text.IndexOf('.', dot + 1))
                if (partIds.TryGetValue(text[..dot], out var id))
                    return id + text[dot..];
            return null;
        }
    }

    /// <summary>What is wrong with a rule, and what to do; null where it can be judged.</summary>
    static (string Why, string Advice)? WrongRule(string rule, Func<string, bool> isSignal)
    {
        try
        {
            foreach (var name in RuleParser.NamesIn(rule).Select(n => string.Join('.', n.Steps)))
                if (name != "time" && !isSignal(name) && !isSignal(name + "[1]"))
                    return ($"there is no signal '{DocumentLimits.Short(name)}'.", "Look it up in the list of signals.");
            return null;
        }
        catch (LanguageException e)
        {
            return (e.Error.Message, e.Error.Suggestion ?? "Change it in Verify.");
        }
    }

    /// <summary>Requirements and parts at rest that speak of what is not there.</summary>
    public static IEnumerable<Finding> Broken(ModelDocument document, SourceMap map, Func<string, bool> isSignal)
    {
        foreach (var requirement in document.Requirements.Values.Where(r => r.Measure is { } m && !document.Measures.ContainsKey(m)))
            yield return new Finding(
                Severity.Warning,
                Code,
                $"The measure of the requirement '{requirement.Name}' is not in the model, so it is not judged.",
                "",
                requirement.Name,
                Suggestion: "Choose another in Verify, or remove the requirement."
            );
        foreach (var requirement in document.Requirements.Values)
        foreach (var (what, reference) in ((string, string?)[])[("signal", requirement.Signal), ("set-point", requirement.Reference)])
            if (reference is { Length: > 0 } && !isSignal(map.NameOf(reference)))
                yield return new Finding(
                    Severity.Warning,
                    Code,
                    $"The {what} of the requirement '{requirement.Name}' is not in the model, so it is not judged.",
                    "",
                    requirement.Name,
                    Suggestion: "Choose another signal in Verify, or remove the requirement."
                );
        foreach (var requirement in document.Requirements.Values)
            if (requirement.Rule is { } rule && WrongRule(rule, isSignal) is var (why, advice))
                yield return new Finding(
                    Severity.Warning,
                    Code,
                    $"The rule of the requirement '{requirement.Name}' is not judged: {why}",
                    "",
                    requirement.Name,
                    Suggestion: advice
                );
        if (document.Stimuli.GetValueOrDefault(document.Settings.Stimulus) is { } stimulus)
            foreach (var track in stimulus.Tracks.Values.Where(t => t.Shape == TrackShape.Set))
            {
                var isThere = isSignal(map.NameOf(track.Target));
                if (!isThere || track.Unit is { Length: > 0 } unit && !Language.Units.Unit.TryParse(unit, out _, out _))
                    yield return new Finding(
                        Severity.Warning,
                        Code,
                        isThere
                            ? $"The unit of a track of '{stimulus.Name}' cannot be read: {DocumentLimits.Short(track.Unit!)}."
                            : $"'{stimulus.Name}' sets a value that is not in the model: {DocumentLimits.Short(track.Target)}.",
                        "",
                        "run settings",
                        Suggestion: isThere ? "Give it another unit in the inspector." : "Remove the track."
                    );
            }

        foreach (var part in document.Settings.SteadyParts ?? [])
            if (!PartPath.TryParse(part, out var path) || path.IsRoot || map.NameOf(path) is null)
                yield return new Finding(
                    Severity.Warning,
                    Code,
                    $"A part that should start at rest is not in the model{(part.Length < 30 ? $": {part}" : "")}.",
                    "",
                    "run settings",
                    Suggestion: "Choose the parts at rest anew in the run settings."
                );
    }
}
