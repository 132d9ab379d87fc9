using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Workbench.Views;

/// <summary>What ports carry, and which of them a wire can join.</summary>
static class PortKinds
{
    /// <summary>Kind of a member that a bundle is given, which may be any signal.</summary>
    public const string Any = "any";

    static readonly Dictionary<(string Kind, bool IsInput), (string Plug, string[] Takes)> Signals = (
        from kind in (string[])["one", "vector", "bundle", Any]
        from isInput in (bool[])[false, true]
        let other = isInput ? "out" : "in"
        select (
            (kind, isInput),
            (
                $"{(isInput ? "in" : "out")} {kind}",
                kind == Any ? (string[])[$"{other} one", $"{other} vector", $"{other} bundle"] : [$"{other} {kind}", $"{other} {Any}"]
            )
        )
    ).ToDictionary(p => p.Item1, p => p.Item2);

    static string KindOf(PortDescription port) =>
        port.IsVector
            ? "vector"
            : port.Type switch
            {
                "Boolean" => "boolean",
                "Bundle" or "BundlePort" => "bundle",
                _ => "real",
            };

    /// <summary>A port as declared, without what wires and values make of it.</summary>
    public static PortView View(PortDescription port) =>
        Of(port.Name, port.Description, port.Causality == Causality.Input, port.Side, KindOf(port), port.Domain);

    /// <summary>What a port is, in words.</summary>
    static string What(bool isInput, string group, string? domain) =>
        domain is not null
            ? $"{("aeiou".Contains(domain[0], StringComparison.Ordinal) ? "an" : "a")} {domain} port"
            : (isInput ? "an input" : "an output")
                + group switch
                {
                    "vector" => " for a vector",
                    "bundle" => " for a bundle",
                    Any => " for any signal",
                    _ => " for one signal",
                };

    /// <param name="kind">real, boolean, vector, bundle or any.</param>
    /// <param name="domain">Physical domain; null for a signal.</param>
    public static PortView Of(string name, string? description, bool isInput, string side, string kind, string? domain)
    {
        // One real or Boolean signal takes one wire; several signals in one wire do not fit a port for one.
        var group = kind is "vector" or "bundle" or Any ? kind : "one";
        var (plug, takes) = domain is null ? Signals[(group, isInput)] : (domain, [domain]);
        return new PortView(
            name,
            description,
            isInput,
            side,
            kind,
            plug,
            takes,
            What(isInput, group, domain),
            null,
            domain,
            null,
            null,
            null,
            null
        );
    }
}
