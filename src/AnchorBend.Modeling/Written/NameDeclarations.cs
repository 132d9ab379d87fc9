using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Written;

/// <summary>Declares the names of a definition in the class that it comes to. Words count from 1.</summary>
/// <param name="definition">What the definition is called.</param>
/// <param name="keeps">Whether outputs keep their values until something sets them, from their start on.</param>
sealed class NameDeclarations(string definition, TextPlaces places, bool keeps)
{
    /// <exception cref="DocumentException">A type is none.</exception>
    /// <exception cref="Language.LanguageException">A value is none.</exception>
    public IEnumerable<string> Of(IEnumerable<NameNode> names)
    {
        var words = new Dictionary<string, int>();
        foreach (var node in names)
            yield return Declare(node, words);
        foreach (var (word, number) in words)
            yield return $"constant Integer {ExpressionText.Name(word)} = {number};";
    }

    /// <summary>Real, Integer or Boolean.</summary>
    static string TypeOf(NameNode node) =>
        node.Kind is NameKind.Event or NameKind.Signal ? "Boolean"
        : Words.Of(node.Type).Count > 0 || node.Type.TrimStart().StartsWith('{') ? "Integer"
        : node.Type.Trim();

    /// <summary>The value that a name begins with, or has where nothing gives it another.</summary>
    public string First(NameNode node) =>
        places.Expression(
            node.Start
                ?? (
                    TypeOf(node) == "Boolean" ? "false"
                    : node.Type.Trim().StartsWith('{') ? "1"
                    : "0"
                ),
            new($"Start of {node.Name}", null),
            "time"
        );

    string Declare(NameNode node, Dictionary<string, int> words)
    {
        var listed = Words.Of(node.Type);
        for (var i = 0; i < listed.Count; i++)
            if (!words.TryAdd(listed[i], i + 1) && words[listed[i]] != i + 1)
                throw new DocumentException($"'{listed[i]}' stands at two places in lists of words of '{definition}'.");
        var type = TypeOf(node);
        if (type is not ("Real" or "Integer" or "Boolean"))
            throw new DocumentException($"'{node.Name}' of '{definition}' is Real, Integer, Boolean, or words in braces.");
        var value = First(node);
        var unit = type == "Real" && node.Unit is { Length: > 0 } u ? $"unit = \"{u.Replace("\"", "", StringComparison.Ordinal)}\"" : "";
        var note = node.Description is { Length: > 0 } d
            ? $" \"{d.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal)}\""
            : "";
        var name = ExpressionText.Name(node.Name);
        string Attributes(params string[] more) =>
            string.Join(", ", more.Append(unit).Where(a => a.Length > 0)) is { Length: > 0 } all ? $"({all})" : "";
        var discrete = type == "Real" ? "discrete " : "";
        return node.Kind switch
        {
            NameKind.Input or NameKind.Event => $"input {type} {name}{Attributes()}{note};",
            NameKind.Parameter => $"parameter {type} {name}{Attributes()} = {value}{note};",
            NameKind.Output when !keeps => $"output {type} {name}{Attributes()}{note};",
            NameKind.Output => $"output {type} {name}{Attributes($"start = {value}", "fixed = true")}{note};",
            _ => $"{discrete}{type} {name}{Attributes($"start = {value}", "fixed = true")}{note};",
        };
    }
}
