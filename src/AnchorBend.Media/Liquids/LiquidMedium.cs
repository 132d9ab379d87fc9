namespace AnchorBend.Media.Liquids;

/// <summary>
/// A liquid by its density and heat capacity at 1 bar over temperature and a bulk modulus K that does not change: v = v0(T) (1 − (p −
/// p0)/K), and
/// the enthalpy that belongs to it, h = ∫ c dT + (v0 − T v0') ((p − p0) − (p − p0)²/2K), as ∂h/∂p = v − T ∂v/∂T of any substance.
/// Enthalpies are counted from 0 at 273.15 K and 1 bar.
/// </summary>
abstract class LiquidMedium : Medium
{
    const double Zero = 273.15,
        Normal = 1e5;

    /// <summary>kg/m3 at 1 bar, over °C.</summary>
    protected abstract double Density0(double t);

    /// <summary>J/(kg·K) at 1 bar, over °C.</summary>
    protected abstract double HeatCapacity0(double t);

    /// <summary>The integral of the heat capacity from 0 °C, J/kg.</summary>
    protected abstract double Heat0(double t);

    /// <summary>Pa·s over °C.</summary>
    protected abstract double Viscosity0(double t);

    /// <summary>W/(m·K) over °C.</summary>
    protected abstract double Conductivity0(double t);

    protected abstract double Modulus { get; }

    /// <summary>°C between which it is described.</summary>
    protected abstract (double Least, double Most) Range { get; }

    /// <summary>
    /// Undissolved gas in it, as p v / T of the gas in a kilogram, J/(kg·K): an ideal gas, whose heat is nothing beside the liquid's and
    /// whose v − T ∂v/∂T is nought, so that enthalpies stay what they are.
    /// </summary>
    protected virtual double Gas => 0;

    /// <summary>Below this pressure gas takes no more room: a search may pass through.</summary>
    const double LeastGasPressure = 1;

    /// <summary>Step of differences of the density over temperature, K: its polynomials are known to 1e-16 and change little over 1
    /// K.</summary>
    const double Step = 0.05;

    /// <summary>Specific volume at 1 bar with its first two slopes along temperature.</summary>
    (double V, double First, double Second) Volume0(double t)
    {
        // Beyond its range the volume goes on as its tangent.
        var (least, most) = Range;
        var within = Math.Clamp(t, least + 2 * Step, most - 2 * Step);
        var (a, b, c) = (1 / Density0(within - Step), 1 / Density0(within), 1 / Density0(within + Step));
        var first = (c - a) / (2 * Step);
        return (b + first * (t - within), first, t == within ? (a - 2 * b + c) / (Step * Step) : 0);
    }

    (double Heat, double Capacity) HeatAt(double t)
    {
        var (least, most) = Range;
        var within = Math.Clamp(t, least, most);
        var c = HeatCapacity0(within);
        return (Heat0(within) + c * (t - within), c);
    }

    double Squeeze(double p) => (p - Normal) * (1 - (p - Normal) / (2 * Modulus));

    public override double Enthalpy(double p, double T)
    {
        var t = T - Zero;
        var (v, first, _) = Volume0(t);
        return HeatAt(t).Heat + (v - T * first) * Squeeze(p);
    }

    double Temperature(double p, double h)
    {
        var T = Zero + h / HeatCapacity0(Math.Clamp(20, Range.Least, Range.Most));
        for (var k = 0; k < 50; k++)
        {
            var (v, first, second) = Volume0(T - Zero);
            var (heat, c) = HeatAt(T - Zero);
            var step = (h - heat - (v - T * first) * Squeeze(p)) / (c - T * second * Squeeze(p));
            T += step;
            if (Math.Abs(step) <= 1e-13 * Math.Abs(T))
                break;
        }

        return T;
    }

    public override FluidState At(double p, double h)
    {
        var T = Temperature(p, h);
        var (v0, first, second) = Volume0(T - Zero);
        var squeezed = 1 - (p - Normal) / Modulus;
        var capacity = HeatAt(T - Zero).Capacity - T * second * Squeeze(p);
        // ∂h/∂p = (v0 − T v0') (1 − (p − p0)/K)
        var (Th, hp) = (1 / capacity, (v0 - T * first) * squeezed);
        var Tp = -hp * Th;
        var (below, gas) = (Math.Max(p, LeastGasPressure), Gas);
        return new FluidState(
            T,
            Tp,
            Th,
            v0 * squeezed + gas * T / below,
            -v0 / Modulus + first * squeezed * Tp + gas * (Tp - (p > LeastGasPressure ? T / below : 0)) / below,
            first * squeezed * Th + gas * Th / below
        );
    }

    double Within(double p, double h) => Math.Clamp(Temperature(p, h) - Zero, Range.Least, Range.Most);

    public override double Viscosity(double p, double h) => Viscosity0(Within(p, h));

    public override double Conductivity(double p, double h) => Conductivity0(Within(p, h));

    public override Beyond Validity(double p, double h)
    {
        var t = Temperature(p, h) - Zero;
        return t < Range.Least ? Beyond.TooCold
            : t > Range.Most ? Beyond.TooHot
            : p <= 0 ? Beyond.TooLow
            : p > 0.1 * Modulus ? Beyond.TooHigh
            : Beyond.Nothing;
    }

    /// <summary>
    /// Liquids are torn apart below nought; their law goes on, as it must where a search passes through, and <see cref="Validity"/> tells.
    /// </summary>
    protected override double LeastPressure => Gas > 0 ? LeastGasPressure : -0.5 * Modulus;

    protected override double Guess(double density, double energy) => 1e6;
}
