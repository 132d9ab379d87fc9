using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Workbench.Views;

/// <summary>The look of a part that joins signals to a bundle or picks them: a bar with a port for each member it shows.</summary>
static class BundleView
{
    /// <param name="members">Names of the members with the kinds of their ports.</param>
    /// <param name="joins">Whether the part joins signals; else it picks them.</param>
    public static PartView Of(IEnumerable<(string Name, string Kind)> members, bool joins, (double Width, double Height) size)
    {
        PortView Port(string port, string about, bool isInput, string kind) =>
            PortKinds.Of(port, about, isInput, isInput ? "left" : "right", kind, null);
        var ports = members.Select(m => Port(m.Name, $"Member {m.Name}", joins, m.Kind));
        return new PartView(
            "",
            size.Width,
            size.Height,
            "bar",
            null,
            null,
            null,
            [.. ports, Port(BundlePart.Whole, "All members", !joins, "bundle")],
            new Dictionary<string, ParameterView>(),
            null,
            null,
            []
        );
    }
}
