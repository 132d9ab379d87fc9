using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>
/// Bundles of named signals: connectors that take a member from each connection to them (expandable connectors; Modelica Language
/// Specification 3.6, section 9.1.3). They hold no variables: whatever is connected to one member, directly or through other bundles, is
/// one connection set.
/// </summary>
sealed class BundleConnections(Elaborator flat)
{
    readonly FlatModel model = flat.Model;
    readonly List<Finding> findings = flat.Findings;

    readonly BundleContract contract = new(flat);
    int ends;

    readonly Dictionary<string, BundleNode> bundles = [];

    /// <summary>The bundle, or the member of one, that a reference names; null for other things.</summary>
    BundleNode? BundleAt(Instance instance, Reference reference, out string path)
    {
        var at = instance;
        path = "";
        for (var i = 0; i < reference.Parts.Count; i++)
        {
            var part = reference.Parts[i];
            if (!at.Members.TryGetValue(part.Name, out var member))
                return null;
            flat.Instances.Ensure(member);
            if (member.Parts is not { Length: > 0 } parts)
                return null;
            at =
                part.Subscripts.Count == 0 || member.Shape.Length == 0
                    ? parts[0]
                    : parts[instance.Scope.FlatIndex(member.Shape, part, reference.At, (e, _) => instance.Scope.Binder.Bind(e))];
            if (!at.Type.Definition.IsExpandable)
                continue;
            path = at.Path;
            if (!bundles.TryGetValue(path, out var node))
            {
                bundles[path] = node = new BundleNode();
                contract.Declare(node, at.Type, path);
            }

            foreach (var inner in reference.Parts.Skip(i + 1))
                node = node.Member(inner.Name);
            return node.Root;
        }

        return null;
    }

    /// <returns>Whether the connection is one of a bundle.</returns>
    public bool ConnectBundle(Instance instance, ConnectEquation connect)
    {
        var (first, second) = (
            BundleAt(instance, connect.First, out var firstPath),
            BundleAt(instance, connect.Second, out var secondPath)
        );
        if (first is null && second is null)
            return false;
        if (first is not null && second is not null)
        {
            BundleNode.Join(first, second);
            return true;
        }

        var (node, bundle, port) = first is not null ? (first, connect.First, connect.Second) : (second!, connect.Second, connect.First);
        if (bundles.Values.Any(b => ReferenceEquals(b.Root, node)))
            throw new LanguageException(
                "bundle",
                $"'{port.Path}' is a signal, but '{bundle.Path}' is a bundle.",
                connect.At,
                $"Name the member it becomes, as in connect({port.Path}, {bundle.Path}.member)."
            );
        node.Ends.Add(new BundleEnd(instance, port, first is not null ? firstPath : secondPath, connect.At, ends++));
        return true;
    }

    /// <summary>Joins what is connected to the same member, and says under which names it can be found.</summary>
    public void ConnectBundles()
    {
        foreach (var (path, node) in bundles)
        {
            var members = new List<BundleMember>();
            List(path, "", node.Root, members, 0);
            model.Bundles[path] = members;
        }

        contract.Check(bundles.Values);
        var done = new HashSet<BundleNode>();
        foreach (var node in bundles.Values)
            ConnectMembers(node.Root, null, done);
    }

    void ConnectMembers(BundleNode node, BundleNode? around, HashSet<BundleNode> done)
    {
        if (!done.Add(node))
            return;
        foreach (var member in node.Members.Values)
            ConnectMembers(member.Root, node, done);
        if (node.Ends.Count == 0)
            return;
        var name = around?.Members.First(m => ReferenceEquals(m.Value.Root, node)).Key ?? node.Ends[0].Port.Path;
        var drivers = node.Ends.Where(contract.Drives).OrderBy(e => e.Number).ToList();
        var hub = drivers.Count > 0 ? drivers[0] : node.Ends[0];
        foreach (var end in node.Ends.Except(drivers.Count > 0 ? drivers : [hub]))
            flat.Guard(end.Instance.Path, () => flat.Sets.Connect(hub.Instance, hub.Port, end.Instance, end.Port, end.At));
        foreach (var twice in drivers.Skip(1))
            WrittenTwice(name, hub, twice);
        if (drivers.Count == 0 && around?.Declaration(name) is null)
            Missing(name, around, node.Ends[0]);
    }

    void WrittenTwice(string name, BundleEnd first, BundleEnd second)
    {
        // Physical connectors are equal at all their ends; only a signal has one source.
        if (flat.Sets.PartAt(second.Instance, second.Port) is not null)
        {
            flat.Guard(second.Instance.Path, () => flat.Sets.Connect(first.Instance, first.Port, second.Instance, second.Port, second.At));
            return;
        }

        findings.Add(
            new Finding(
                Severity.Error,
                "double-driver",
                $"'{name}' is written twice: by '{contract.Source(first)}' in '{first.Bundle}' and by '{contract.Source(second)}' in "
                    + $"'{second.Bundle}'.",
                second.Bundle,
                null,
                second.At,
                "Give one of them another name, or remove its wire."
            )
        );
    }

    void Missing(string name, BundleNode? around, BundleEnd reader)
    {
        var others = around
            ?.Members.Where(m => m.Value.Root.Ends.Any(contract.Drives) || m.Value.Root.Members.Count > 0)
            .Select(m => m.Key)
            .ToList()
            ?? [];
        findings.Add(
            new Finding(
                Severity.Warning,
                "bundle-member",
                $"Nothing in the bundle is called '{name}'{FilledBy(around, reader.Bundle)}.",
                reader.Bundle,
                null,
                reader.At,
                Nearest.Of(name, others) is { } near ? $"Did you mean {near}?"
                    : others.Count > 0 ? $"There are {string.Join(", ", others)}."
                    : "Connect a bundle that has this member."
            )
        );
    }

    /// <summary>Where what a reader's bundle holds comes together, by the paths of the bundles.</summary>
    string FilledBy(BundleNode? around, string reader)
    {
        var others = bundles
            .Where(b => b.Key != reader && around is not null && ReferenceEquals(b.Value.Root, around.Root))
            .Select(b => b.Key)
            .ToList();
        return others.Count == 0 ? "" : $"; it comes together in {string.Join(", ", others.Take(3).Select(o => $"'{o}'"))}";
    }

    /// <summary>Every member with what kind of thing it is; its signals can be found by the bundle's path.</summary>
    void List(string path, string prefix, BundleNode node, List<BundleMember> members, int level)
    {
        if (level > Instantiation.MaximumInstanceDepth)
            return;
        foreach (var (name, member) in node.InOrder())
        {
            var source = member.Ends.FirstOrDefault(contract.Drives);
            var own = prefix + name;
            if (member.Members.Count == 0 && source.Instance is null)
            {
                // What a type declares can be picked before anything writes it.
                if (node.Declaration(name) is { } declared)
                    members.Add(new BundleMember(own, contract.KindOf(declared)));
                continue;
            }

            // A physical connector is a member of texts only: it is no signal that could be picked and shown.
            if (source.Instance is not null && flat.Sets.PartAt(source.Instance, source.Port) is not null)
                continue;
            if (source.Instance is null)
                members.Add(new BundleMember(own, "bundle", member.Types is [var type, ..] ? type.Class.Definition.Name : null));
            else
            {
                var signals = flat.Sets.Port(source.Instance, source.Port);
                for (var i = 0; i < signals.Count; i++)
                    model.Aliases.TryAdd(signals.Count == 1 ? $"{path}.{own}" : $"{path}.{own}[{i + 1}]", signals[i].Index);
                members.Add(
                    new BundleMember(
                        own,
                        signals.Count > 1 ? "vector"
                            : model.Variables[signals[0].Index].Type == ScalarType.Boolean ? "boolean"
                            : "real"
                    )
                );
            }

            List(path, own + ".", member, members, level + 1);
        }
    }
}
