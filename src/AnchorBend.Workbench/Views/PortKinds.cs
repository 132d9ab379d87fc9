using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Workbench.Views;

/// <summary>What ports carry, and which of them a wire can join.</summary>
static class PortKinds
{
    /// <summary>Kind of a member that a bundle is given, which may be any signal.</summary>
    public const string Any = "any";

    const string In = "in",
        Out = "out",
        Either = "either";

    static readonly Dictionary<(string Kind, string Way), (string Plug, string[] Takes)> Signals = (
        from kind in (string[])["one", "vector", "bundle", Any]
        from way in (string[])[In, Out, Either]
        let others = way switch
        {
            In => (string[])[Out, Either],
            Out => [In, Either],
            _ => [In, Out, Either],
        }
        let kinds = kind == Any ? (string[])["one", "vector", "bundle"] : [kind, Any]
        select ((kind, way), ($"{way} {kind}", others.SelectMany(o => kinds.Select(k => $"{o} {k}")).ToArray()))
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
            : (isInput ? "an input" : "an output") + Carries(group);

    static string Carries(string group) =>
        group switch
        {
            "vector" => " for a vector",
            "bundle" => " for a bundle",
            Any => " for any signal",
            _ => " for one signal",
        };

    /// <param name="kind">real, boolean, vector, bundle or any.</param>
    /// <param name="domain">Physical domain; null for a signal.</param>
    /// <param name="isEither">Whether the first wire says which way the signal goes.</param>
    public static PortView Of(
        string name,
        string? description,
        bool isInput,
        string side,
        string kind,
        string? domain,
        bool isEither = false
    )
    {
        // One real or Boolean signal takes one wire; several signals in one wire do not fit a port for one.
        var group = kind is "vector" or "bundle" or Any ? kind : "one";
        var (plug, takes) = domain is null
            ? Signals[
                (
                    group,
                    isEither ? Either
                    : isInput ? In
                    : Out
                )
            ]
            : (domain, [domain]);
        return new PortView(
            name,
            description,
            isInput,
            side,
            kind,
            plug,
            takes,
            isEither ? $"either way{Carries(group)}" : What(isInput, group, domain),
            null,
            domain,
            null,
            null,
            null,
            null
        )
        {
            IsEither = isEither,
        };
    }
}
