using System.Globalization;
using System.Xml.Linq;
using AnchorBend.Language.Units;

namespace AnchorBend.Delivery.Exchange;

/// <summary>How numbers of an exchange unit are read as numbers in coherent units: factor · number + offset.</summary>
/// <param name="Symbol">The coherent unit.</param>
public sealed record UnitScale(string Symbol, double Factor, double Offset)
{
    public bool IsOne => Factor == 1 && Offset == 0;
}

/// <summary>
/// The units that a description defines (Functional Mock-up Interface 2.0.4, section 2.2.2, and 3.0.1, section 2.4.3): each as powers of
/// base units with a factor and an offset, or by its name alone, which is read if it is a usual one.
/// </summary>
sealed class UnitScales
{
    static readonly string[] Bases = ["m", "kg", "s", "A", "K", "mol", "cd"];

    readonly Dictionary<string, XElement> defined = [];

    /// <summary>Units of types that variables are declared by.</summary>
    readonly Dictionary<string, string> ofTypes = [];

    public UnitScales(XElement root)
    {
        foreach (var unit in root.Element("UnitDefinitions")?.Elements("Unit") ?? [])
            if (unit.Element("BaseUnit") is { } powers)
                defined.TryAdd(Text(unit, "name"), powers);
        foreach (var type in root.Element("TypeDefinitions")?.Elements() ?? [])
            ofTypes.TryAdd(Text(type, "name"), Text(type.Element("Real") ?? type, "unit"));
    }

    static string Text(XElement element, string name) => element.Attribute(name)?.Value.Trim() ?? "";

    /// <summary>The unit of a variable as its makers call it; that of its type where it has none itself.</summary>
    public string NameOf(XElement variable) =>
        Text(variable, "unit") is { Length: > 0 } own ? own : ofTypes.GetValueOrDefault(Text(variable, "declaredType")) ?? "";

    /// <summary>Null for a unit that nothing is known of.</summary>
    public UnitScale? Of(string name)
    {
        if (name.Length == 0)
            return null;
        var isUsual = Unit.TryParse(name, out var usual, out _);
        if (!defined.TryGetValue(name, out var powers))
            return isUsual ? new UnitScale(usual.Coherent().Symbol, usual.Factor, usual.Offset) : null;
        var (factor, offset) = (Number(powers, "factor", 1), Number(powers, "offset", 0));
        if (!(factor is not 0 && double.IsFinite(factor) && double.IsFinite(offset)))
            return null;
        var dimension = Dimension.None;
        for (var i = 0; i < Bases.Length; i++)
            dimension *= Dimension.Base(i, (int)Math.Clamp(Number(powers, Bases[i], 0), -100, 100));
        var angle = (int)Number(powers, "rad", 0);
        if (isUsual && usual.Dimension == dimension && usual.Factor == factor && usual.Offset == offset && (!usual.Cycles || angle == 0))
            return new UnitScale(usual.Coherent().Symbol, factor, offset);
        // One of these that is not coherent leads to the usual name of the one that is.
        var coherent = new Unit(name, dimension, 2, 0, angle, false).Coherent().Symbol;
        return new UnitScale(coherent.Length == 0 ? "1" : coherent, factor, offset);
    }

    static double Number(XElement element, string name, double otherwise) =>
        Text(element, name) is not { Length: > 0 } text ? otherwise
        : double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) ? value
        : double.NaN;
}
