using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Workbench.Views;

/// <summary>Bundles, picks and ports for bundles of one level, with the members that they hold and what their types declare.</summary>
sealed class BundleViews(
    PreparedModel prepared,
    ModelDocument document,
    PartCatalog catalog,
    DiagramDefinition diagram,
    VariableViews variables
)
{
    /// <summary>A part that joins signals to a bundle or picks them: its ports are the members it shows.</summary>
    public PartView View(string id, PartNode part, ClassDefinition type, string? path)
    {
        var joins = BundlePart.Joins(type);
        var held = Held(path);
        var size = BundlePart.Size(part, type);
        string Kind(string member, bool isGiven) => isGiven ? PortKinds.Any : held.FirstOrDefault(h => h.Path == member)?.Kind ?? "real";
        var members = BundlePart.Members(part, type);
        PartView view;
        if (PortPart.KindOf(type) is null)
            view = BundleView.Joining(members.Select(m => new MemberPort(m, Kind(m, joins), joins)), joins, size);
        else
        {
            // A port of the level is read and written; what is wired says which of it.
            var own = diagram.Wires.Values.Where(w => w.From.Part == id).Select(w => w.From.Port).ToHashSet();
            var given = diagram.Wires.Values.Where(w => w.To.Part == id).Select(w => w.To.Port).ToHashSet();
            bool? IsInput(string port) =>
                own.Contains(port) ? false
                : given.Contains(port) ? true
                : null;
            view = BundleView.OfLevel(
                members.Select(m => new MemberPort(m, Kind(m, IsInput(m) != false), IsInput(m))),
                IsInput(BundlePart.Whole),
                part.X < DiagramClass.Middle(diagram) ? "right" : "left",
                size
            );
        }

        return view with
        {
            Bundle = Declared(part, path, held),
            Ports =
            [
                .. view.Ports.Select(p =>
                    p.Name == BundlePart.Whole ? p with { Elements = Keys(id, path, held, "") }
                    : p.Kind is "vector" or "bundle" ? p with { Elements = Keys(id, path, held, p.Name) }
                    : p
                ),
            ],
            Members = joins && PortPart.KindOf(type) is null ? null : [.. held.Select(m => m.Path)],
        };
    }

    /// <summary>The names of all types of the model.</summary>
    readonly Lazy<IReadOnlyList<string>> types = new(() =>
        [
            .. document
                .Definitions.Values.OfType<TextDefinition>()
                .Where(d => BundlePart.Is(catalog.Find(d.Name)))
                .Select(d => d.Name)
                .Order(StringComparer.Ordinal),
        ]
    );

    BundleTypeView Declared(PartNode part, string? path, IReadOnlyList<BundleMember> held)
    {
        if (BundlePart.TypeOf(part, catalog) is not { } name || catalog.Find(name) is not { } type)
            return new BundleTypeView(
                null,
                null,
                null,
                [.. held.Where(m => !m.Path.Contains('.')).Select(m => Proposed(path!, m))],
                types.Value
            );
        var members = BundleTypeText.Members(type);
        var id = document.Definitions.FirstOrDefault(d => d.Value is TextDefinition && d.Value.Name == name).Key;
        return new BundleTypeView(name, members is null ? null : id, type.Description, members ?? [], types.Value);
    }

    /// <summary>A member that a bundle holds as a type could declare it.</summary>
    DeclaredMember Proposed(string path, BundleMember member)
    {
        var signals = prepared.Model.SignalsOf($"{path}.{member.Path}").Select(s => prepared.Model.Variables[s.Variable]).ToList();
        return new DeclaredMember(
            member.Path,
            member.Kind switch
            {
                "bundle" => member.Type ?? "",
                "boolean" => "Boolean",
                _ => "Real",
            },
            signals.Count == 0 ? null : signals[0].DisplayUnit ?? variables.CoherentUnit(signals[0])?.Symbol,
            member.Kind == "vector" ? signals.Count : null,
            null
        );
    }

    IReadOnlyList<BundleMember> Held(string? path) => path is null ? [] : prepared.Model.Bundles.GetValueOrDefault(path) ?? [];

    /// <summary>Keys of the signals that a bundle holds at or below a member.</summary>
    List<string> Keys(string id, string? path, IReadOnlyList<BundleMember> held, string within) =>
        [.. Signals(path, held, within).Select(s => $"{id}.{s.Name[(path!.Length + 1)..]}")];

    /// <summary>The signals that the bundle of a part holds.</summary>
    public IEnumerable<(string Name, int Variable)> Signals(string path) => Signals(path, Held(path), "");

    IEnumerable<(string Name, int Variable)> Signals(string? path, IReadOnlyList<BundleMember> held, string within) =>
        held.Where(m =>
                m.Kind != "bundle" && (within.Length == 0 || m.Path == within || m.Path.StartsWith(within + ".", StringComparison.Ordinal))
            )
            .SelectMany(m => prepared.Model.SignalsOf($"{path}.{m.Path}"));
}
