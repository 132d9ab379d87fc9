namespace AnchorBend.Media.Gases;

/// <summary>
/// A mixture of ideal gases that does not change: enthalpies add by mole, viscosity by Wilke's rule and conductivity by that of Wassiljewa
/// with the same weights (Poling, Prausnitz and O'Connell, 5th ed., eqs. 9-5.13 and 10-6.1). Enthalpies are counted from 0 at 298.15 K.
/// </summary>
public sealed class GasMedium : Medium
{
    const double Reference = 298.15,
        Least = 190,
        Most = 3500;

    readonly Gas[] gases;

    /// <summary>Moles of each in one of all.</summary>
    readonly double[] parts;
    readonly double mass,
        reference;

    internal GasMedium(params (Gas Gas, double Parts)[] mixture)
    {
        var all = mixture.Sum(m => m.Parts);
        gases = [.. mixture.Select(m => m.Gas)];
        parts = [.. mixture.Select(m => m.Parts / all)];
        mass = gases.Zip(parts, (g, x) => g.Mass * x).Sum();
        reference = Molar(g => g.Enthalpy(Reference));
    }

    /// <summary>Specific gas constant, J/(kg·K).</summary>
    public double R => Gas.Molar / mass;

    double Molar(Func<Gas, double> of)
    {
        var sum = 0.0;
        for (var i = 0; i < gases.Length; i++)
            sum += parts[i] * of(gases[i]);
        return sum;
    }

    /// <summary>J/kg and J/(kg·K); beyond the polynomials the heat capacity stays what it is at their end.</summary>
    (double Enthalpy, double HeatCapacity) Heat(double T)
    {
        var within = Math.Clamp(T, Least, Most);
        var (h, c) = (0.0, 0.0);
        for (var i = 0; i < gases.Length; i++)
        {
            h += parts[i] * gases[i].Enthalpy(within);
            c += parts[i] * gases[i].HeatCapacity(within);
        }

        return ((h - reference + c * (T - within)) / mass, c / mass);
    }

    double Temperature(double h)
    {
        var T = Reference + h / Heat(Reference).HeatCapacity;
        for (var k = 0; k < 50; k++)
        {
            var (at, c) = Heat(T);
            var step = (h - at) / c;
            T += step;
            if (Math.Abs(step) <= 1e-13 * Math.Abs(T))
                break;
        }

        return T;
    }

    public override FluidState At(double p, double h)
    {
        var T = Temperature(h);
        var along = 1 / Heat(T).HeatCapacity;
        return new FluidState(T, 0, along, R * T / p, -R * T / (p * p), R * along / p);
    }

    public override double Enthalpy(double p, double T) => Heat(T).Enthalpy;

    /// <summary>u = h − R T: the temperature follows from the energy alone.</summary>
    public override double Pressure(double density, double energy)
    {
        var T = Reference + (energy + R * Reference) / (Heat(Reference).HeatCapacity - R);
        for (var k = 0; k < 50; k++)
        {
            var (h, c) = Heat(T);
            var step = (energy - (h - R * T)) / (c - R);
            T += step;
            if (Math.Abs(step) <= 1e-13 * Math.Abs(T))
                break;
        }

        return density * R * T;
    }

    public override double Viscosity(double p, double h) => Mixed(Math.Clamp(Temperature(h), Least, Most), g => g.Viscosity);

    public override double Conductivity(double p, double h) => Mixed(Math.Clamp(Temperature(h), Least, Most), g => g.Conductivity);

    double Mixed(double T, Func<Gas, Func<double, double>> of)
    {
        var sum = 0.0;
        for (var i = 0; i < gases.Length; i++)
        {
            var weight = 0.0;
            for (var j = 0; j < gases.Length; j++)
            {
                var (a, b) = (gases[i], gases[j]);
                var root = 1 + Math.Sqrt(a.Viscosity(T) / b.Viscosity(T)) * Math.Pow(b.Mass / a.Mass, 0.25);
                weight += parts[j] * root * root / Math.Sqrt(8 * (1 + a.Mass / b.Mass));
            }

            sum += parts[i] * of(gases[i])(T) / weight;
        }

        return sum;
    }

    public override Beyond Validity(double p, double h)
    {
        var T = Temperature(h);
        return T < 200 ? Beyond.TooCold
            : T > Most ? Beyond.TooHot
            : p > 20e6 ? Beyond.TooHigh
            : p <= 0 ? Beyond.TooLow
            : Beyond.Nothing;
    }

    protected override double Guess(double density, double energy) => density * R * Reference;
}
