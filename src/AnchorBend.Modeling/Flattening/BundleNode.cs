using AnchorBend.Language;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Flattening;

/// <summary>A bundle or a member of one.</summary>
sealed class BundleNode
{
    BundleNode? joined;

    public SortedDictionary<string, BundleNode> Members { get; private set; } = new(StringComparer.Ordinal);

    /// <summary>What is connected to this member, and by the name of which bundle.</summary>
    public List<BundleEnd> Ends { get; private set; } = [];

    /// <summary>The types that declare what this bundle holds, with the paths of the bundles that are of them.</summary>
    public List<BundleType> Types { get; private set; } = [];

    public BundleNode Root => joined is null ? this : joined = joined.Root;

    public BundleNode Member(string name)
    {
        var members = Root.Members;
        if (!members.TryGetValue(name, out var member))
            members[name] = member = new BundleNode();
        return member.Root;
    }

    /// <summary>The declaration of a member by a type of this bundle; null for one that no type declares.</summary>
    public ComponentDeclaration? Declaration(string name) =>
        Types.SelectMany(t => t.Members).FirstOrDefault(m => m.Declaration.Name == name).Declaration;

    /// <summary>The members in the order in which a type declares them; then the others as they were written.</summary>
    public IEnumerable<(string Name, BundleNode Member)> InOrder()
    {
        var declared = Types.Count == 0 ? [] : Types[0].Members.Select(m => m.Declaration.Name).ToList();
        return Members
            .Select(m => (m.Key, Member: m.Value.Root))
            .OrderBy(m => declared.IndexOf(m.Key) is >= 0 and var place ? place : int.MaxValue)
            .ThenBy(m => m.Member.Ends.Select(e => e.Number).DefaultIfEmpty(int.MaxValue).Min());
    }

    public static void Join(BundleNode a, BundleNode b)
    {
        (a, b) = (a.Root, b.Root);
        if (ReferenceEquals(a, b))
            return;
        b.joined = a;
        a.Ends.AddRange(b.Ends);
        a.Types.AddRange(b.Types);
        foreach (var (name, member) in b.Members)
            if (a.Members.TryGetValue(name, out var same))
                Join(same, member);
            else
                a.Members[name] = member;
        (b.Members, b.Ends, b.Types) = ([], [], []);
    }
}

/// <summary>A connection to a member of a bundle.</summary>
/// <param name="Bundle">Path of the bundle that it names.</param>
/// <param name="Number">Its place among all connections to members.</param>
readonly record struct BundleEnd(Instance Instance, Reference Port, string Bundle, Position At, int Number);

/// <summary>The type of a bundle: what it declares, each member with the class in which it is written.</summary>
/// <param name="Path">Path of the bundle that is of this type.</param>
sealed record BundleType(
    LexicalClass Class,
    string Path,
    IReadOnlyList<(ComponentDeclaration Declaration, LexicalClass WrittenIn)> Members
);
