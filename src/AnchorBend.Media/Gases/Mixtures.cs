namespace AnchorBend.Media.Gases;

/// <summary>Mixtures of gases by what they are mixed of.</summary>
static class Mixtures
{
    /// <summary>Dry air by mole (US Standard Atmosphere 1976, of four gases).</summary>
    static readonly (Gas Gas, double Parts)[] DryAir =
    [
        (Gas.Nitrogen, 0.78084),
        (Gas.Oxygen, 0.20946),
        (Gas.Argon, 0.00934),
        (Gas.CarbonDioxide, 0.00036),
    ];

    static double MassOf((Gas Gas, double Parts)[] mixture) => mixture.Sum(m => m.Parts * m.Gas.Mass) / mixture.Sum(m => m.Parts);

    public static GasMedium Air { get; } = new(DryAir);

    /// <param name="water">kg of vapour in a kg of dry air; it does not condense.</param>
    public static GasMedium Humid(double water) => new([.. DryAir, (Gas.Steam, water / Gas.Steam.Mass * MassOf(DryAir))]);

    /// <summary>What comes of methane burnt with dry air: CH4 + 2 O2 → CO2 + 2 H2O, with what is left of the air.</summary>
    /// <param name="fuel">kg of methane in a kg of air; more than the oxygen can burn stays methane.</param>
    public static GasMedium Burnt(double fuel)
    {
        var methane = fuel / Gas.Methane.Mass * MassOf(DryAir);
        var oxygen = DryAir[1].Parts;
        var burnt = Math.Min(methane, oxygen / 2);
        return new(
            (Gas.Nitrogen, DryAir[0].Parts),
            (Gas.Oxygen, oxygen - 2 * burnt),
            (Gas.Argon, DryAir[2].Parts),
            (Gas.CarbonDioxide, DryAir[3].Parts + burnt),
            (Gas.Steam, 2 * burnt),
            (Gas.Methane, methane - burnt)
        );
    }
}
