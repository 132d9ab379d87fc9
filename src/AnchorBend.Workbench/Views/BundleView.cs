using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Workbench.Views;

/// <summary>A member that a bundle's part shows.</summary>
/// <param name="IsInput">Whether the part is given it; null where no wire says it yet.</param>
sealed record MemberPort(string Name, string Kind, bool? IsInput);

/// <summary>The look of a part that joins signals to a bundle or picks them: a plate with a port for each member it shows.</summary>
static class BundleView
{
    /// <param name="joins">Whether the part joins signals; else it picks them.</param>
    public static PartView Joining(IEnumerable<MemberPort> members, bool joins, (double Width, double Height) size) =>
        Of([.. members.Select(m => Port(m, joins ? "left" : "right")), Port(Whole(!joins), joins ? "right" : "left")], size);

    /// <summary>A port for a bundle on its own level: all it has is at the side towards the level.</summary>
    public static PartView OfLevel(IEnumerable<MemberPort> members, bool? whole, string side, (double Width, double Height) size) =>
        Of([.. members.Append(Whole(whole)).Select(m => Port(m, side))], size);

    static MemberPort Whole(bool? isInput) => new(BundlePart.Whole, "bundle", isInput);

    static PortView Port(MemberPort member, string side) =>
        PortKinds.Of(
            member.Name,
            member.Name == BundlePart.Whole ? "All members" : $"Member {member.Name}",
            member.IsInput ?? side == "left",
            side,
            member.Kind,
            null,
            member.IsInput is null
        );

    static PartView Of(IReadOnlyList<PortView> ports, (double Width, double Height) size) =>
        new("", size.Width, size.Height, "bar", null, null, null, ports, new Dictionary<string, ParameterView>(), null, null, []);
}
