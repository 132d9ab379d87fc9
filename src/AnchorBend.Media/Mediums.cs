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
        gas => new MineralOil(32, 5.4, gas),
        gas => new MineralOil(46, 6.8, gas),
    ];

    public static int Count => Kinds.Length;

    static Func<double, Medium> Only(Medium medium) => _ => medium;

    /// <summary>Mixtures are made once for a share; those that were asked for last are at hand.</summary>
    [ThreadStatic]
    static Dictionary<(int, double), Medium>? made;

    const int MostMade = 256;

    static readonly Medium?[] pure = [.. Kinds.Select(k => ReferenceEquals(k(0), k(0)) ? k(0) : null)];

    /// <summary>Numbers of tables begin beyond those of kinds.</summary>
    const double FirstTable = 1000;

    static readonly Lock brought = new();
    static readonly Dictionary<double, WeakReference<TableMedium>> tables = [];

    /// <summary>
    /// A fluid from a table, and its number, which follows from what it holds, in every process. It is found by its number for as long as
    /// somebody holds it: models hold those that their equations call by number.
    /// </summary>
    /// <exception cref="FormatException">The columns are no table of a fluid.</exception>
    public static (double Number, TableMedium Table) Bring(double[] p, double[] T, double[] d, double[] h, double[] mu, double[] k)
    {
        var number = FirstTable + TableMedium.Print(p, T, d, h, mu, k);
        lock (brought)
            if (Held(number) is { } known)
                return (number, known);
        var made = TableMedium.Of(p, T, d, h, mu, k);
        lock (brought)
        {
            if (Held(number) is { } meanwhile)
                return (number, meanwhile);
            foreach (var gone in tables.Keys.Where(n => Held(n) is null).ToList())
                tables.Remove(gone);
            tables[number] = new WeakReference<TableMedium>(made);
        }

        return (number, made);
    }

    static TableMedium? Held(double number) => tables.TryGetValue(number, out var weak) && weak.TryGetTarget(out var table) ? table : null;

    /// <summary>Tables that this thread asked for last, found without a lock; so few may outlive their models.</summary>
    [ThreadStatic]
    static Dictionary<double, TableMedium>? lately;

    const int MostLately = 4;

    static Medium Table(double number)
    {
        lately ??= [];
        if (lately.TryGetValue(number, out var known))
            return known;
        lock (brought)
            known = Held(number);
        if (known is null)
            return NoMedium.Instance;
        if (lately.Count == MostLately)
            lately.Clear();
        return lately[number] = known;
    }

    /// <param name="number">From 1, in the order of the kinds that parts offer, beyond them the last; or that of a table, none of whose
    /// properties is a number where nobody holds it.</param>
    /// <param name="share">What a mixture holds, kg/kg.</param>
    public static Medium Of(double number, double share)
    {
        if (number >= FirstTable)
            return Table(number);
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
