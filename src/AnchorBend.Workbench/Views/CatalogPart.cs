using System.Runtime.CompilerServices;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Views;

/// <summary>A part as the catalog offers it: what it is, and how one looks that nothing has been wired to or typed in yet.</summary>
public sealed record CatalogPart : PartDescription
{
    static readonly ConditionalWeakTable<PartDescription, CatalogPart> Made = [];

    CatalogPart(PartDescription description, PartView fresh)
        : base(description) => Fresh = fresh;

    /// <summary>The look of a part that has just been placed, its face in symbols instead of values.</summary>
    public PartView Fresh { get; }

    /// <summary>All that can be placed of what is shipped.</summary>
    public static IReadOnlyList<CatalogPart> Shipped => AllShipped.Value;

    static readonly Lazy<IReadOnlyList<CatalogPart>> AllShipped = new(() =>
        [.. PartCatalog.Standard.Parts.Concat(PartCatalog.Ports).Select(p => Of(p, PartCatalog.Standard))]
    );

    /// <param name="catalog">The catalog that the part stands in.</param>
    public static CatalogPart Of(PartDescription description, PartCatalog catalog) =>
        Made.GetValue(description, d => new CatalogPart(d, Look(d, catalog)));

    static PartView Look(PartDescription description, PartCatalog catalog)
    {
        var part = new PartNode { Type = description.Name, Name = description.Title };
        if (catalog.Find(description.Name) is { } type && BundlePart.Is(type))
        {
            var joins = BundlePart.Joins(type);
            var members = BundlePart.Members(part, type).Select(m => new MemberPort(m, joins ? PortKinds.Any : "real", joins));
            return PortPart.KindOf(type) is not null
                ? BundleView.OfLevel(members, null, "right", BundlePart.Size(part, type))
                : BundleView.Joining(members, joins, BundlePart.Size(part, type));
        }

        List<PortView> ports =
        [
            .. description
                .Ports.Where(p => p.Optional is null || description.Default(p.Optional) == "true")
                .SelectMany(p =>
                    p.IsArray && !p.IsVector
                        ? Enumerable
                            .Range(1, PortCount.Of(p, description.Default))
                            .Select(i => PortKinds.View(p) with { Name = $"{p.Name}[{i}]" })
                        : [PortKinds.View(p)]
                ),
        ];
        return new PartView(
            FaceText.Symbols(description),
            description.Width,
            description.HeightWith(ports.Count(p => p.Side == "left"), ports.Count(p => p.Side == "right")),
            description.Shape ?? "plate",
            description.Symbol,
            FaceText.Drawing(description, part),
            null,
            ports,
            new Dictionary<string, ParameterView>(),
            null,
            null,
            []
        );
    }
}
