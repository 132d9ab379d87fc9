using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>
/// What the types of bundles say of their members: expandable connectors may declare some (Modelica Language Specification 3.6, section
/// 9.1.3). What is not declared, is not written, or is something else than declared, is told. A declared unit says of which kind a member
/// is and how it is shown; ports without a unit of their own are in the coherent one, as everywhere.
/// </summary>
sealed class BundleContract(Elaborator flat)
{
    readonly FlatModel model = flat.Model;
    readonly List<Finding> findings = flat.Findings;

    /// <summary>Notes what the type of a bundle declares, with the types of bundles within.</summary>
    public void Declare(BundleNode node, LexicalClass type, string path) => Declare(node, type, path, []);

    void Declare(BundleNode node, LexicalClass type, string path, HashSet<ClassDefinition> around)
    {
        var members = new List<(ComponentDeclaration Declaration, LexicalClass WrittenIn)>();
        Collect(type, members, 0);
        if (members.Count == 0)
            return;
        flat.Budget.Values(1 + members.Count, type.Definition.At);
        if (!around.Add(type.Definition))
            throw new LanguageException("recursion", $"The bundle type {type.Definition.Name} holds itself.", type.Definition.At);
        node.Root.Types.Add(new BundleType(type, path, members));
        foreach (var (declaration, writtenIn) in members)
            if (BundleOf(declaration, writtenIn) is { } inner)
                Declare(node.Member(declaration.Name), inner, $"{path}.{declaration.Name}", around);
        around.Remove(type.Definition);
    }

    void Collect(LexicalClass type, List<(ComponentDeclaration, LexicalClass)> members, int level)
    {
        if (level > Instantiation.MaximumInstanceDepth)
            throw new LanguageException("recursion", $"{type.Definition.Name} extends itself.", type.Definition.At);
        flat.Budget.Values(1, type.Definition.At);
        foreach (var element in type.Definition.Elements)
            if (element is ComponentDeclaration component)
                members.Add((component, type));
            else if (element is ExtendsClause extends)
                Collect(
                    flat.Classes.FindClass(extends.Base, type) ?? throw flat.Classes.UnknownClass(extends.Base, extends.At),
                    members,
                    level + 1
                );
    }

    /// <summary>The type of a member that is a bundle itself; null for a signal.</summary>
    LexicalClass? BundleOf(ComponentDeclaration declaration, LexicalClass writtenIn) =>
        Instantiation.Primitive(declaration.TypeName) is not null ? null
        : flat.Classes.FindClass(declaration.TypeName, writtenIn) is not { } type
            ? throw flat.Classes.UnknownClass(declaration.TypeName, declaration.At)
        : type.Definition.IsExpandable ? type
        : null;

    /// <summary>What a declared member is, in the words of <see cref="BundleMember.Kind"/>.</summary>
    public string KindOf(ComponentDeclaration declaration) =>
        Instantiation.Primitive(declaration.TypeName) is not { } type ? "bundle"
        : declaration.Dimensions.Count > 0 ? "vector"
        : type == ScalarType.Boolean ? "boolean"
        : "real";

    /// <summary>Whether what is connected there gives the member its value.</summary>
    public bool Drives(BundleEnd end)
    {
        try
        {
            return flat
                .Sets.Port(end.Instance, end.Port)
                .Any(p =>
                    model.Variables[p.Index].Causality is var causality
                    && (causality == Causality.None || causality == Causality.Output != p.Outside)
                );
        }
        catch (LanguageException)
        {
            return false;
        }
    }

    /// <summary>The name of what is connected there.</summary>
    public string Source(BundleEnd end) => model.NameOf(flat.Sets.Port(end.Instance, end.Port)[0].Index);

    /// <summary>Compares bundles that have a type with what is connected to them.</summary>
    public void Check(IEnumerable<BundleNode> bundles)
    {
        var done = new HashSet<BundleNode>();
        // Those around first: where nothing of a bundle within is written, the one around says so.
        foreach (var node in bundles)
            if (IsUsed(node.Root, []))
                Check(node.Root, done);
    }

    void Check(BundleNode node, HashSet<BundleNode> done)
    {
        if (!done.Add(node))
            return;
        if (node.Types.Count > 0)
        {
            SameType(node);
            Undeclared(node);
            Unwritten(node);
            foreach (var (declaration, _) in node.Types[0].Members)
                if (node.Members.TryGetValue(declaration.Name, out var member))
                    AsDeclared(node, declaration, member.Root);
        }

        foreach (var member in node.Members.Values)
            if (IsWritten(member.Root, []))
                Check(member.Root, done);
    }

    static bool IsUsed(BundleNode node, HashSet<BundleNode> around) =>
        around.Add(node) && (node.Ends.Count > 0 || node.Members.Values.Any(m => IsUsed(m.Root, around)));

    bool IsWritten(BundleNode node, HashSet<BundleNode> around) =>
        around.Add(node) && (node.Ends.Any(Drives) || node.Members.Values.Any(m => IsWritten(m.Root, around)));

    void SameType(BundleNode node)
    {
        var first = node.Types[0];
        if (node.Types.FirstOrDefault(t => t.Class.Definition != first.Class.Definition) is not { } other)
            return;
        findings.Add(
            new Finding(
                Severity.Error,
                "bundle-type",
                $"'{first.Path}' and '{other.Path}' are one bundle, but the first is of the type {Name(first)}, the second of "
                    + $"{Name(other)}.",
                other.Path,
                null,
                Suggestion: "Give both the same type, or take the wire between them away."
            )
        );
    }

    static string Name(BundleType type) => type.Class.Definition.Name;

    void Undeclared(BundleNode node)
    {
        foreach (var (name, member) in node.Members)
        {
            if (node.Declaration(name) is not null || !IsUsed(member.Root, []))
                continue;
            var type = node.Types[0];
            var at = FirstEnd(member.Root);
            var near = Nearest.Of(name, type.Members.Select(m => m.Declaration.Name));
            findings.Add(
                new Finding(
                    Severity.Error,
                    "bundle-undeclared",
                    $"'{name}' is no member of {Name(type)}" + (at.Bundle == type.Path ? "." : $", the type of '{type.Path}'."),
                    at.Bundle,
                    name,
                    at.At,
                    near is null ? $"Declare it in {Name(type)}, or take it away." : $"Did you mean {near}?"
                )
                {
                    Replacement = near,
                }
            );
        }
    }

    /// <summary>A connection to a bundle or to something in it.</summary>
    static BundleEnd FirstEnd(BundleNode node) =>
        node.Ends.Count > 0 ? node.Ends[0] : FirstEnd(node.Members.Values.First(m => IsUsed(m.Root, [])).Root);

    void Unwritten(BundleNode node)
    {
        var type = node.Types[0];
        var open = type
            .Members.Select(m => m.Declaration.Name)
            .Where(n => !node.Members.TryGetValue(n, out var member) || !IsWritten(member.Root, []))
            .ToList();
        if (open.Count == 0)
            return;
        var writers = node.Members.Values.SelectMany(m => m.Root.Ends).Where(Drives).Select(e => e.Bundle).ToHashSet();
        var place = node.Types.Find(t => writers.Contains(t.Path))?.Path ?? writers.FirstOrDefault() ?? type.Path;
        var readers = open.Where(n => node.Members.ContainsKey(n) && IsUsed(node.Members[n].Root, []))
            .Select(n => $"'{n}' is read in '{FirstEnd(node.Members[n].Root).Bundle}'")
            .ToList();
        findings.Add(
            new Finding(
                Severity.Warning,
                "bundle-unwritten",
                $"Nothing writes {Listed(open)} of {Name(type)} in '{place}'"
                    + (readers.Count == 0 ? "." : $"; {string.Join(", ", readers.Take(3))}."),
                place,
                open[0],
                Suggestion: "Wire a signal to each, or take what is not needed out of the type."
            )
        );
    }

    /// <summary>Names in a sentence; not all of many.</summary>
    static string Listed(List<string> names) =>
        names.Count > 6
            ? $"{string.Join(", ", names.Take(5).Select(n => $"'{n}'"))} and {names.Count - 5} more"
            : string.Join(", ", names.Select(n => $"'{n}'"));

    void AsDeclared(BundleNode node, ComponentDeclaration declaration, BundleNode member)
    {
        if (Instantiation.Primitive(declaration.TypeName) is not { } type)
            return;
        foreach (var end in member.Ends)
            flat.Guard(
                end.Bundle,
                () =>
                {
                    if (flat.Sets.PartAt(end.Instance, end.Port) is not null)
                        throw Other(node, declaration, "a signal", "a physical port", end);
                    var signals = flat.Sets.Port(end.Instance, end.Port);
                    Compare(node, declaration, type, signals.ConvertAll(s => model.Variables[s.Index]), end);
                },
                declaration.Name
            );
    }

    void Compare(BundleNode node, ComponentDeclaration declaration, ScalarType type, List<FlatVariable> signals, BundleEnd end)
    {
        var size = declaration.Dimensions is [NumberLiteral { Value: var length }] ? (int)length : 1;
        if (declaration.Dimensions.Count == 0 ? signals.Count != 1 : signals.Count != size && declaration.Dimensions is [NumberLiteral])
            throw Other(node, declaration, $"{size} signal{(size == 1 ? "" : "s")}", $"{signals.Count}", end);
        var isTruth = signals[0].Type == ScalarType.Boolean;
        if (isTruth != (type == ScalarType.Boolean))
            throw Other(node, declaration, isTruth ? "a number" : "true or false", isTruth ? "true or false" : "a number", end);
        if (type == ScalarType.Integer && signals[0].Type == ScalarType.Real && Drives(end))
            throw Other(node, declaration, "a whole number", "any number", end);
        if (declaration.Modification?.Argument("unit")?.Value.Binding is not StringLiteral { Value: { Length: > 0 } symbol })
            return;
        if (!Unit.TryParse(symbol, out var unit, out var problem))
            throw new LanguageException("unit", $"The unit of '{declaration.Name}' in {Name(node.Types[0])}: {problem}", declaration.At);
        foreach (var signal in signals)
            if (signal.Unit is null)
            {
                signal.Unit = unit.Coherent();
                signal.DisplayUnit ??= unit.Symbol;
            }
            else if (!signal.Unit.Fits(unit))
                throw Other(node, declaration, $"declared in {Unit.Pretty(symbol)}", $"in {Unit.Pretty(signal.Unit.Symbol)}", end);
    }

    static LanguageException Other(BundleNode node, ComponentDeclaration declaration, string declared, string present, BundleEnd end) =>
        new(
            "bundle-type",
            $"'{declaration.Name}' of {Name(node.Types[0])} is {declared}, but '{end.Port.Path}' is {present}.",
            end.At,
            $"Change the declaration of '{declaration.Name}', or what is wired to it in '{end.Bundle}'."
        );
}
