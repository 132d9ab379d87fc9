using FluidFunction = System.Func<double, double, double, double, double>;

namespace AnchorBend.Media;

/// <summary>A property as a function of the number of a medium, its share, and two more; slopes by operand, null where there are
/// none.</summary>
public sealed record FluidProperty(string Name, int Arity, FluidFunction Value, IReadOnlyList<FluidFunction?> Slopes);

/// <summary>Properties of fluids as functions of numbers, which equations call.</summary>
public static class FluidFunctions
{
    public static IReadOnlyList<FluidProperty> All { get; } =
    [
        Exact(
            "fluidTemperature",
            (m, p, h) => m.At(p, h).Temperature,
            (m, p, h) => m.At(p, h).TemperatureAlongPressure,
            (m, p, h) => m.At(p, h).TemperatureAlongEnthalpy
        ),
        Exact(
            "fluidDensity",
            (m, p, h) => m.At(p, h).Density,
            (m, p, h) => m.At(p, h) is var s ? -s.VolumeAlongPressure / (s.Volume * s.Volume) : 0,
            (m, p, h) => m.At(p, h) is var s ? -s.VolumeAlongEnthalpy / (s.Volume * s.Volume) : 0
        ),
        Exact("fluidPressure", (m, d, u) => m.Pressure(d, u), PressureAlongDensity, PressureAlongEnergy),
        Differenced("fluidEnthalpy", (m, p, T) => m.Enthalpy(p, T)),
        Differenced("fluidViscosity", (m, p, h) => m.Viscosity(p, h)),
        Differenced("fluidConductivity", (m, p, h) => m.Conductivity(p, h)),
        Differenced("fluidHeatCapacity", (m, p, h) => m.HeatCapacity(p, h)),
        Differenced("fluidVapour", (m, p, h) => m.At(p, h).Vapour),
        Differenced("fluidSaturation", (m, p, _) => m.SaturationTemperature(p)),
        new("fluidBeyond", 4, Call((m, p, h) => (double)m.Validity(p, h)), [null, null, null, null]),
        new("carriedShare", 1, (m, _, _, _) => CarriedShare(m), [(m, _, _, _) => CarriedShareAlong(m)]),
        new(
            "lossDensity",
            3,
            (a, b, x, _) => a > b ? b + (a - b) * ForwardShare(x) : a + (b - a) * ForwardShare(-x),
            [
                (a, b, x, _) => a > b ? ForwardShare(x) : 1 - ForwardShare(-x),
                (a, b, x, _) => a > b ? 1 - ForwardShare(x) : ForwardShare(-x),
                (a, b, x, _) => a > b ? (a - b) * ForwardShareAlong(x) : (a - b) * ForwardShareAlong(-x),
            ]
        ),
        new(
            "pipeReynolds",
            2,
            (drive, roughness, _, _) => PipeFlow.Reynolds(drive, roughness),
            [Difference((drive, roughness, _, _) => PipeFlow.Reynolds(drive, roughness), 0), null]
        ),
        new(
            "pipeNusselt",
            3,
            (re, pr, slenderness, _) => PipeFlow.Nusselt(re, pr, slenderness),
            [
                Difference((re, pr, slenderness, _) => PipeFlow.Nusselt(re, pr, slenderness), 0),
                Difference((re, pr, slenderness, _) => PipeFlow.Nusselt(re, pr, slenderness), 1),
                null,
            ]
        ),
    ];

    /// <summary>Flows below this carry something of both sides, kg/s.</summary>
    const double SmallFlow = 1e-5;

    /// <summary>From 0 to 1 over the small flows, by a cubic without corners: what flows one way and the other add up to 1.</summary>
    static double CarriedShare(double m) => Math.Clamp(m / SmallFlow, -1, 1) is var r ? 0.5 + r * (0.75 - 0.25 * r * r) : 0;

    static double CarriedShareAlong(double m) => Math.Abs(m) < SmallFlow && m / SmallFlow is var r ? 0.75 * (1 - r * r) / SmallFlow : 0;

    /// <summary>From 0 to 1 on the positive side, without a corner at nought.</summary>
    static double ForwardShare(double x) => x > 0 ? x * x / (1 + x * x) : 0;

    static double ForwardShareAlong(double x) => x > 0 && 1 + x * x is var square ? 2 * x / (square * square) : 0;

    delegate double OfMedium(Medium medium, double x, double y);

    /// <summary>
    /// From v(p, h) = 1/d and h = u + p/d: with dh = du + dp/d − p/d² dd and −dd/d² = v_p dp + v_h dh.
    /// </summary>
    static double PressureAlongDensity(Medium m, double d, double u)
    {
        var p = m.Pressure(d, u);
        var s = m.At(p, u + p / d);
        return (p * s.VolumeAlongEnthalpy - 1) / (d * d) / (s.VolumeAlongPressure + s.VolumeAlongEnthalpy / d);
    }

    static double PressureAlongEnergy(Medium m, double d, double u)
    {
        var p = m.Pressure(d, u);
        var s = m.At(p, u + p / d);
        return -s.VolumeAlongEnthalpy / (s.VolumeAlongPressure + s.VolumeAlongEnthalpy / d);
    }

    static FluidFunction Call(OfMedium of) => (medium, share, x, y) => of(Mediums.Of(medium, share), x, y);

    static FluidProperty Exact(string name, OfMedium value, OfMedium alongX, OfMedium alongY) =>
        new(name, 4, Call(value), [null, null, Call(alongX), Call(alongY)]);

    static FluidProperty Differenced(string name, OfMedium value)
    {
        var f = Call(value);
        return new(name, 4, f, [null, null, Difference(f, 2), Difference(f, 3)]);
    }

    /// <summary>Step of a difference as a share of the number: the root of the fourth order of rounding for what is known to
    /// 1e-12.</summary>
    const double Step = 1e-4;

    /// <summary>The slope of a function along an operand as a central difference.</summary>
    public static FluidFunction Difference(FluidFunction of, int operand) =>
        operand switch
        {
            0 => (a, b, c, d) => Width(a) is var w ? (of(a + w, b, c, d) - of(a - w, b, c, d)) / (2 * w) : 0,
            1 => (a, b, c, d) => Width(b) is var w ? (of(a, b + w, c, d) - of(a, b - w, c, d)) / (2 * w) : 0,
            2 => (a, b, c, d) => Width(c) is var w ? (of(a, b, c + w, d) - of(a, b, c - w, d)) / (2 * w) : 0,
            _ => (a, b, c, d) => Width(d) is var w ? (of(a, b, c, d + w) - of(a, b, c, d - w)) / (2 * w) : 0,
        };

    static double Width(double x) => Step * Math.Max(Math.Abs(x), 1e-3);
}
