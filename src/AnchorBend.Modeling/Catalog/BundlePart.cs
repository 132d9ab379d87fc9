using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Catalog;

/// <summary>
/// Parts that join signals to a bundle or pick them out of one. They are expandable connectors, so their ports are no declarations: which
/// members a part shows is a list of names in the document.
/// </summary>
public static class BundlePart
{
    /// <summary>Name of the port for the bundle as a whole.</summary>
    public const string Whole = "bundle";

    /// <summary>The part that joins signals.</summary>
    public const string Join = "Bundle";

    /// <summary>Name of the list of members among a part's parameters.</summary>
    public const string List = "members";

    /// <summary>Name of the type, among a part's parameters, that declares what its bundle holds; absent for free members.</summary>
    public const string Declared = "type";

    /// <summary>The name of the type that declares what the part's bundle holds; null for free members.</summary>
    public static string? TypeOf(PartNode part, PartCatalog catalog) =>
        catalog.Find(ClassOf(part, catalog)) is { } type && Is(type) && type.Components.Any() ? type.Name : null;

    public static bool Is(ClassDefinition? definition) => definition is { IsExpandable: true };

    /// <summary>The class that a bundle, a pick or a port for one is an instance of: the type that it names, if any.</summary>
    public static string ClassOf(PartNode part, PartCatalog catalog) =>
        part.Parameters.GetValueOrDefault(Declared) is { Length: > 0 } type && Is(catalog.Find(type)) ? type : part.Type;

    /// <summary>Whether the part joins signals; else it picks them.</summary>
    public static bool Joins(ClassDefinition definition) => Text(definition, "bundle") != "pick";

    public static string DefaultMembers(ClassDefinition definition) =>
        Text(definition, "members") ?? string.Join(", ", definition.Components.Select(c => c.Name));

    static string? Text(ClassDefinition definition, string name) =>
        (definition.Annotation?.Argument("__AnchorBend")?.Value.Argument(name)?.Value.Binding as StringLiteral)?.Value;

    /// <summary>The members a placed part shows, in their order; names that cannot be are left out.</summary>
    public static IReadOnlyList<string> Members(PartNode part, ClassDefinition definition) =>
        [.. Names(part, definition).Where(IsMember).Distinct()];

    /// <summary>Width and height on the diagram, which the names need.</summary>
    public static (double Width, double Height) Size(PartNode part, ClassDefinition definition)
    {
        var members = Members(part, definition);
        var longest = members.Select(m => m.Length).DefaultIfEmpty(0).Max();
        // A port of the level has the bundle as a whole below its members.
        var rows = members.Count + (PortPart.KindOf(definition) is null || members.Count == 0 ? 0 : 1);
        return (Math.Max(64, Grid * Math.Ceiling((longest * LetterWidth + Strands) / Grid)), Math.Max(48, 16 * (rows + 1)));
    }

    const double Grid = 8,
        LetterWidth = 6.2,
        Strands = 40;

    /// <summary>The first name in the list that cannot be a member; null when all can.</summary>
    public static string? Unusable(PartNode part, ClassDefinition definition) => Names(part, definition).FirstOrDefault(n => !IsMember(n));

    static string[] Names(PartNode part, ClassDefinition definition) =>
        part
            .Parameters.GetValueOrDefault(List, DefaultMembers(definition))
            .Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);

    static bool IsMember(string name)
    {
        try
        {
            return name != Whole
                && Parser.ParseExpression(name) is Reference r
                && r.Parts.All(p => p.Subscripts.Count == 0)
                && ExpressionText.Print(r) == name;
        }
        catch (LanguageException)
        {
            return false;
        }
    }
}
