using System.Text;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Catalog;

/// <summary>A member that a bundle's type declares.</summary>
/// <param name="Kind">Real, Integer or Boolean, or the name of another type for a bundle within.</param>
/// <param name="Size">Elements of a vector; null for one signal.</param>
public sealed record DeclaredMember(string Name, string Kind, string? Unit, int? Size, string? Description);

/// <summary>
/// The type of a bundle as a table and as a text: an expandable connector that declares members (Modelica Language Specification 3.6,
/// section 9.1.3).
/// </summary>
public static class BundleTypeText
{
    public const int MostMembers = 500;

    /// <summary>What a class declares; null where its text says more than a table of members does.</summary>
    public static IReadOnlyList<DeclaredMember>? Members(ClassDefinition definition)
    {
        var members = new List<DeclaredMember>();
        foreach (var element in definition.Elements)
        {
            if (
                element
                    is not ComponentDeclaration
                    {
                        Variability: Variability.Continuous,
                        Causality: Causality.None,
                        Condition: null
                    } component
                || component.Modification is { Binding: not null }
                || component.Modification?.Arguments.Any(a => a.Name != "unit" || a.Value.Binding is not StringLiteral) == true
                || component.Dimensions is not ([] or [NumberLiteral])
            )
                return null;
            members.Add(
                new DeclaredMember(
                    component.Name,
                    component.TypeName,
                    (component.Modification?.Argument("unit")?.Value.Binding as StringLiteral)?.Value,
                    component.Dimensions is [NumberLiteral { Value: var size }] ? (int)size : null,
                    component.Description
                )
            );
        }

        return members;
    }

    /// <exception cref="DocumentException">A member cannot be declared so.</exception>
    public static string Write(string name, string? description, IReadOnlyList<DeclaredMember> members)
    {
        if (!Lexer.IsPlainIdentifier(name))
            throw new DocumentException(
                $"'{DocumentLimits.Short(name)}' cannot be the name of a type: take letters, digits and underscores, a letter first."
            );
        DocumentLimits.AtMost("members of one bundle type", members.Count, MostMembers);
        var text = new StringBuilder($"expandable connector {name}{Described(description)}\n");
        var names = new HashSet<string>();
        foreach (var member in members)
        {
            Check(member);
            if (!names.Add(member.Name))
                throw new DocumentException($"Two members are called '{member.Name}'.");
            text.Append($"  {member.Kind} {member.Name}")
                .Append(member.Size is { } size ? FormattableString.Invariant($"[{size}]") : "")
                .Append(member.Unit is { Length: > 0 } unit ? $"(unit = {Quoted(unit)})" : "")
                .Append(Described(member.Description))
                .Append(";\n");
        }

        return text.Append($"  annotation(__AnchorBend(symbol = \"bundle\"));\nend {name};").ToString();
    }

    static void Check(DeclaredMember member)
    {
        if (member.Name is null || !Lexer.IsPlainIdentifier(member.Name) || member.Name == BundlePart.Whole)
            throw new DocumentException(
                $"'{DocumentLimits.Short(member.Name ?? "")}' cannot be the name of a member: take letters, digits and underscores, a "
                    + "letter first."
            );
        if (member.Kind is null || !Lexer.IsPlainIdentifier(member.Kind))
            throw new DocumentException($"The member '{member.Name}' needs a kind.");
        if (member.Size is < 1 or > 10_000)
            throw new DocumentException($"The vector '{member.Name}' takes 1 to 10,000 elements.");
        if (member.Unit is { Length: > 0 } unit && !Unit.TryParse(unit, out _, out var problem))
            throw new DocumentException(
                $"The unit of '{member.Name}': {problem}" + (UnitTable.Closest(unit) is { } near ? $" Did you mean {near}?" : "")
            );
    }

    static string Described(string? description) => string.IsNullOrWhiteSpace(description) ? "" : " " + Quoted(description.Trim());

    static string Quoted(string text) =>
        "\"" + text.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal) + "\"";
}
