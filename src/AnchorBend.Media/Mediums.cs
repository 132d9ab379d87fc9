using AnchorBend.Media.Gases;
using AnchorBend.Media.Liquids;
using AnchorBend.Media.Water;

namespace AnchorBend.Media;

/// <summary>The fluids by the numbers that equations call them by.</summary>
public static class Mediums
{
    /// <summary>In the order of the kinds that parts offer, from 1.</summary>
    static readonly Func<double, Medium>[] Kinds =
    [
        Only(new WaterMedium()),
        share => new SeaWater(share),
        Only(Mixtures.Air),
        Mixtures.Humid,
        Only(new GasMedium((Gas.Nitrogen, 1))),
        Only(new GasMedium((Gas.Oxygen, 1))),
        Only(new GasMedium((Gas.Hydrogen, 1))),
        Only(new GasMedium((Gas.Methane, 1))),
        Only(new GasMedium((Gas.CarbonDioxide, 1))),
        Mixtures.Burnt,
        share => new GlycolWater(share),
        Only(new MineralOil(32, 5.4)),
        Only(new MineralOil(46, 6.8)),
    ];

    public static int Count => Kinds.Length;

    static Func<double, Medium> Only(Medium medium) => _ => medium;

    /// <summary>Mixtures are made once for a share; those that were asked for last are at hand.</summary>
    [ThreadStatic]
    static Dictionary<(int, double), Medium>? made;

    const int MostMade = 256;

    static readonly Medium?[] pure = [.. Kinds.Select(k => ReferenceEquals(k(0), k(0)) ? k(0) : null)];

    /// <param name="number">From 1, in the order of the kinds that parts offer; beyond them the last.</param>
    /// <param name="share">What a mixture holds, kg/kg.</param>
    public static Medium Of(double number, double share)
    {
        var kind = Math.Clamp((int)number - 1, 0, Kinds.Length - 1);
        if (pure[kind] is { } medium)
            return medium;
        made ??= [];
        if (made.TryGetValue((kind, share), out var found))
            return found;
        if (made.Count == MostMade)
            made.Clear();
        return made[(kind, share)] = Kinds[kind](share);
    }
}
