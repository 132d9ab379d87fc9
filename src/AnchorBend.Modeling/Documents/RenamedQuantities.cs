using System.Text.RegularExpressions;

namespace AnchorBend.Modeling.Documents;

/// <summary>The quantities of mechanical ports, which format 3 called by letters.</summary>
public static partial class RenamedQuantities
{
    static readonly Dictionary<string, string> Names = new()
    {
        ["phi"] = "angle",
        ["tau"] = "torque",
        ["s"] = "position",
        ["f"] = "force",
    };

    /// <summary>A signal's key, <c>part.port.quantity</c>, as it is now; other keys as they are.</summary>
    /// <param name="type">The type of the part; null where it is not known.</param>
    public static string Key(string key, string? type) =>
        type is "Bundle" or "Pick" or "BundlePort" || key.Split('.') is not [var part, var port, var quantity] ? key
        : Names.TryGetValue(quantity, out var now) ? $"{part}.{port}.{now}"
        : key;

    /// <summary>A text in the equation language with the quantities as they are called now: those of the ports that it declares, or that
    /// come with the parts it extends.</summary>
    public static string Text(string text)
    {
        if (OwnConnector().IsMatch(text))
            return text;
        var (rotational, translational) = (
            Ports(text, "RotationalPort", "BetweenShafts"),
            Ports(text, "TranslationalPort", "BetweenFlanges")
        );
        if (rotational.Count + translational.Count == 0)
            return text;
        return Members()
            .Replace(text, m =>
                (m.Groups["quantity"].Value is "phi" or "tau" ? rotational : translational).Contains(m.Groups["port"].Value)
                    ? m.Groups["port"].Value + m.Groups["index"].Value + "." + Names[m.Groups["quantity"].Value]
                    : m.Value
            );
    }

    /// <summary>Names of the ports of a type; those of a base are a and b.</summary>
    static HashSet<string> Ports(string text, string type, string baseType)
    {
        var names = Declarations()
            .Matches(text)
            .Where(m => m.Groups["type"].Value == type)
            .SelectMany(m => Identifiers().Matches(Descriptions().Replace(m.Groups["names"].Value, "")).Select(n => n.Groups["name"].Value))
            .ToHashSet();
        if (Regex.IsMatch(text, $@"\bextends\s+{baseType}\b"))
            names.UnionWith(["a", "b"]);
        return names;
    }

    [GeneratedRegex(@"\b(?<type>RotationalPort|TranslationalPort)(?:\s*\[[^\]]*\])?\s+(?<names>[^;]+);")]
    private static partial Regex Declarations();

    [GeneratedRegex(@"(?:^|,)\s*(?<name>[A-Za-z_]\w*)")]
    private static partial Regex Identifiers();

    [GeneratedRegex("\"(?:[^\"\\\\]|\\\\.)*\"|\\bannotation\\s*\\(.*", RegexOptions.Singleline)]
    private static partial Regex Descriptions();

    [GeneratedRegex(@"\b(?<port>[A-Za-z_]\w*)(?<index>\[[^\]]*\])?\.(?<quantity>phi|tau|s|f)\b")]
    private static partial Regex Members();

    [GeneratedRegex(@"\bconnector\b")]
    private static partial Regex OwnConnector();
}
