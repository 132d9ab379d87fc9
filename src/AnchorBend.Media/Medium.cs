namespace AnchorBend.Media;

/// <summary>A fluid: its properties by pressure (Pa) and specific enthalpy (J/kg), smooth but at changes of phase.</summary>
public abstract class Medium
{
    public abstract FluidState At(double p, double h);

    /// <summary>J/kg, at a temperature in K.</summary>
    public abstract double Enthalpy(double p, double T);

    /// <summary>Dynamic viscosity, Pa·s.</summary>
    public abstract double Viscosity(double p, double h);

    /// <summary>Thermal conductivity, W/(m·K).</summary>
    public abstract double Conductivity(double p, double h);

    /// <summary>Specific heat capacity at constant pressure, J/(kg·K); of what boils, of its liquid and vapour by their masses.</summary>
    public virtual double HeatCapacity(double p, double h) => 1 / At(p, h).TemperatureAlongEnthalpy;

    /// <summary>Boiling temperature, K; infinite for what does not boil here.</summary>
    public virtual double SaturationTemperature(double p) => double.PositiveInfinity;

    /// <summary>What bounds are passed.</summary>
    public abstract Beyond Validity(double p, double h);

    /// <summary>Lowest pressure that is searched for, Pa.</summary>
    protected virtual double LeastPressure => 100;

    const double MostPressure = 1e9;

    const int MostSteps = 80;

    /// <summary>A step of this size leaves its square: nothing that rounding would not.</summary>
    const double Close = 1e-7,
        LeastStep = 1e-6;

    /// <summary>
    /// Pressure of a density (kg/m3) and a specific internal energy (J/kg): h = u + p/d, so one equation v(p, u + p/d) = 1/d is left,
    /// solved by
    /// Newton's method between bounds that close in. It begins from the same guess whatever was asked before, so answers never depend on
    /// their order.
    /// </summary>
    public virtual double Pressure(double density, double energy)
    {
        var volume = 1 / density;
        var (low, high) = (LeastPressure, MostPressure);
        var p = Guess(density, energy);
        for (var k = 0; k < MostSteps; k++)
        {
            var state = At(p, energy + p * volume);
            var gap = state.Volume - volume;
            var slope = state.VolumeAlongPressure + state.VolumeAlongEnthalpy * volume;
            // Far away ln v over ln p is the straighter line: vapour and wet steam change by decades.
            var isFar = p > 0 && Math.Abs(gap) > 0.1 * volume;
            var next =
                !(slope < 0) ? double.NaN
                : isFar ? p * Math.Exp(Math.Clamp(Math.Log(volume / state.Volume) * state.Volume / (p * slope), -3, 3))
                : p - gap / slope;
            if (!isFar && Math.Abs(next - p) <= Close * Math.Abs(p) + LeastStep)
                return next;
            if (gap > 0)
                low = p;
            else
                high = p;
            if (!(next > low && next < high))
                next = low + (high - low) * (high > 10 * low ? 0.1 : 0.5);
            if (next == low || next == high)
                return next;
            p = next;
        }

        // A pressure that was not found is none: the run says where it got to.
        return double.NaN;
    }

    /// <summary>Where the search for a pressure begins, Pa.</summary>
    protected abstract double Guess(double density, double energy);
}
