namespace AnchorBend.Language.Units;

/// <summary>Named units with their factor (and offset) to coherent SI units. Sources: SI Brochure, 9th edition; NIST SP 811 for the others.</summary>
public static class UnitTable
{
    /// <param name="Prefixes">Whether SI prefixes may stand before the symbol.</param>
    /// <param name="Angle">Exponent of plane angle: 1 for angles.</param>
    /// <param name="Cycles">Counts whole turns without being an angle, as hertz does.</param>
    internal readonly record struct Entry(Dimension Dimension, double Factor, double Offset = 0, bool Prefixes = false, int Angle = 0, bool Cycles = false);

    static readonly Dimension Metre = Dimension.Base(0), Kilogram = Dimension.Base(1), Second = Dimension.Base(2), Ampere = Dimension.Base(3),
        Kelvin = Dimension.Base(4), Mole = Dimension.Base(5), Candela = Dimension.Base(6);

    static readonly Dimension Newton = Kilogram * Metre / Second.Power(2), Joule = Newton * Metre, Watt = Joule / Second, Pascal = Newton / Metre.Power(2),
        Coulomb = Ampere * Second, Volt = Watt / Ampere, Ohm = Volt / Ampere, Weber = Volt * Second, Litre = Metre.Power(3);

    internal static readonly Dictionary<string, Entry> Entries = new()
    {
        ["1"] = new(Dimension.None, 1), ["%"] = new(Dimension.None, 0.01), ["ppm"] = new(Dimension.None, 1e-6),
        ["m"] = new(Metre, 1, Prefixes: true), ["g"] = new(Kilogram, 1e-3, Prefixes: true), ["s"] = new(Second, 1, Prefixes: true),
        ["A"] = new(Ampere, 1, Prefixes: true), ["K"] = new(Kelvin, 1, Prefixes: true), ["mol"] = new(Mole, 1, Prefixes: true),
        ["cd"] = new(Candela, 1, Prefixes: true),
        ["rad"] = new(Dimension.None, 1, Prefixes: true, Angle: 1), ["deg"] = new(Dimension.None, Math.PI / 180, Angle: 1),
        ["rev"] = new(Dimension.None, 2 * Math.PI, Angle: 1), ["sr"] = new(Dimension.None, 1),
        ["rpm"] = new(Dimension.None / Second, 2 * Math.PI / 60, Angle: 1),
        ["Hz"] = new(Dimension.None / Second, 1, Prefixes: true, Cycles: true),
        ["N"] = new(Newton, 1, Prefixes: true), ["J"] = new(Joule, 1, Prefixes: true), ["W"] = new(Watt, 1, Prefixes: true),
        ["Pa"] = new(Pascal, 1, Prefixes: true), ["C"] = new(Coulomb, 1, Prefixes: true), ["V"] = new(Volt, 1, Prefixes: true),
        ["Ohm"] = new(Ohm, 1, Prefixes: true), ["S"] = new(Dimension.None / Ohm, 1, Prefixes: true), ["F"] = new(Coulomb / Volt, 1, Prefixes: true),
        ["Wb"] = new(Weber, 1, Prefixes: true), ["T"] = new(Weber / Metre.Power(2), 1, Prefixes: true), ["H"] = new(Weber / Ampere, 1, Prefixes: true),
        ["lm"] = new(Candela, 1, Prefixes: true), ["lx"] = new(Candela / Metre.Power(2), 1, Prefixes: true),
        ["min"] = new(Second, 60), ["h"] = new(Second, 3600), ["d"] = new(Second, 86400),
        ["l"] = new(Litre, 1e-3, Prefixes: true), ["L"] = new(Litre, 1e-3, Prefixes: true), ["t"] = new(Kilogram, 1000),
        ["bar"] = new(Pascal, 1e5, Prefixes: true), ["atm"] = new(Pascal, 101325), ["psi"] = new(Pascal, 6894.757293168361),
        ["degC"] = new(Kelvin, 1, 273.15), ["degF"] = new(Kelvin, 5.0 / 9, 273.15 - 32 * 5.0 / 9),
        ["Ah"] = new(Coulomb, 3600), ["Wh"] = new(Joule, 3600, Prefixes: true), ["eV"] = new(Joule, 1.602176634e-19, Prefixes: true),
        ["cal"] = new(Joule, 4.184, Prefixes: true), ["PS"] = new(Watt, 735.49875), ["hp"] = new(Watt, 745.6998715822702),
        ["in"] = new(Metre, 0.0254), ["ft"] = new(Metre, 0.3048), ["yd"] = new(Metre, 0.9144), ["mi"] = new(Metre, 1609.344),
        ["nmi"] = new(Metre, 1852), ["kn"] = new(Metre / Second, 1852.0 / 3600), ["lb"] = new(Kilogram, 0.45359237),
        ["lbf"] = new(Newton, 4.4482216152605), ["kgf"] = new(Newton, 9.80665), ["St"] = new(Metre.Power(2) / Second, 1e-4, Prefixes: true),
        ["P"] = new(Pascal * Second, 0.1, Prefixes: true), ["gal"] = new(Litre, 3.785411784e-3),
        ["dB"] = new(Dimension.None, 1), ["VA"] = new(Watt, 1, Prefixes: true),
    };

    internal static readonly Dictionary<string, double> Prefixes = new()
    {
        ["Y"] = 1e24, ["Z"] = 1e21, ["E"] = 1e18, ["P"] = 1e15, ["T"] = 1e12, ["G"] = 1e9, ["M"] = 1e6, ["k"] = 1e3, ["h"] = 1e2, ["da"] = 10,
        ["d"] = 0.1, ["c"] = 1e-2, ["m"] = 1e-3, ["u"] = 1e-6, ["n"] = 1e-9, ["p"] = 1e-12, ["f"] = 1e-15, ["a"] = 1e-18,
    };

    static readonly string[] Common =
    [
        "m", "mm", "cm", "km", "in", "ft", "nmi", "s", "ms", "min", "h", "kg", "g", "t", "lb", "rad", "deg", "rev", "rad/s", "deg/s", "rpm", "Hz", "kHz",
        "m/s", "km/h", "kn", "mm/s", "m/s2", "rad/s2", "N", "kN", "lbf", "N.m", "kN.m", "Pa", "kPa", "MPa", "bar", "psi", "K", "degC", "degF", "W", "kW",
        "hp", "J", "kJ", "kWh", "V", "mV", "kV", "A", "mA", "Ohm", "F", "uF", "H", "mH", "C", "Ah", "l", "m3", "l/min", "m3/s", "m3/h", "kg/s", "kg/h",
        "kg.m2", "kg/m3", "N/m", "N.s/m", "N.m.s/rad", "N.m/rad", "Pa.s", "W/K", "W/(m2.K)", "J/K", "J/(kg.K)", "1", "%", "1/s",
    ];

    /// <summary>Common units of one dimension, for the list a field offers; the first is the coherent one.</summary>
    public static IReadOnlyList<string> OfDimension(Dimension dimension) =>
        [.. Common.Where(s => Unit.TryParse(s, out var u, out _) && u.Dimension == dimension)];

    /// <summary>The known symbol nearest to what was typed, or null when nothing is near.</summary>
    public static string? Closest(string typed) => Nearest.Of(typed, Entries.Keys.Concat(Common).Where(s => s != "1" && s != "%"));
}
