namespace AnchorBend.Media.Water;

/// <summary>
/// Temperature and volume of liquid and vapour over pressure and enthalpy, made once from the equations of the release. The vapour's
/// enthalpies are counted from the saturation line, so that its cells follow that.
/// </summary>
sealed class WaterTables
{
    const double LiquidLow = -6e4,
        LiquidHigh = 1.68e6,
        MostPressure = 100e6,
        VapourHigh = 4.16e6;
    const double LowLog = 5.5;
    static readonly double HighLog = Math.Log(GibbsEnergy.HighestSaturation);

    readonly BicubicTable liquidT,
        liquidV,
        vapourT,
        vapourPv;
    readonly CubicLine vapourH,
        liquidH;

    public static WaterTables Instance { get; } = new();

    WaterTables()
    {
        // Beyond the saturation line's ends its functions go on as their own tangents.
        double Line(double log, Func<double, double, double> of)
        {
            var within = Math.Clamp(log, Math.Log(GibbsEnergy.LowestSaturation), HighLog);
            var p = Math.Exp(within);
            var value = of(p, GibbsEnergy.SaturationTemperature(p));
            if (within == log)
                return value;
            var step = within < log ? -1e-3 : 1e-3;
            var inner = Math.Exp(within + step);
            return value + (log - within) * (of(inner, GibbsEnergy.SaturationTemperature(inner)) - value) / step;
        }

        vapourH = new CubicLine(LowLog, HighLog, 800, x => Line(x, (p, T) => GibbsEnergy.Vapour(p, T).Enthalpy));
        liquidH = new CubicLine(LowLog, HighLog, 800, x => Line(x, (p, T) => GibbsEnergy.Liquid(p, T).Enthalpy));
        liquidT = new BicubicTable(0, MostPressure, 33, LiquidLow, LiquidHigh, 175, LiquidTemperature);
        liquidV = new BicubicTable(0, MostPressure, 33, LiquidLow, LiquidHigh, 175, (p, h) =>
            GibbsEnergy.Liquid(Some(p), LiquidTemperature(p, h)).Volume
        );
        double Heat(double log, double share) => vapourH.At(log).Value + share * (VapourHigh - vapourH.At(log).Value);
        vapourT = new BicubicTable(LowLog, HighLog, 161, 0, 1, 121, (x, y) => VapourTemperature(Math.Exp(x), Heat(x, y)));
        vapourPv = new BicubicTable(LowLog, HighLog, 161, 0, 1, 121, (x, y) =>
            Math.Exp(x) * GibbsEnergy.Vapour(Math.Exp(x), VapourTemperature(Math.Exp(x), Heat(x, y))).Volume
        );
    }

    /// <summary>The equations divide by the pressure.</summary>
    static double Some(double p) => p == 0 ? 1e-3 : p;

    static double LiquidTemperature(double p, double h) => Newton(Some(p), h, 273.15 + h / 4200, GibbsEnergy.Liquid);

    /// <summary>From the saturation line, below which the vapour's equations lead astray.</summary>
    static double VapourTemperature(double p, double h)
    {
        var T = GibbsEnergy.SaturationTemperature(Math.Max(p, GibbsEnergy.LowestSaturation));
        var line = GibbsEnergy.Vapour(p, T);
        return Newton(p, h, T + Math.Max(0, h - line.Enthalpy) / Math.Max(3000, line.HeatCapacity), GibbsEnergy.Vapour);
    }

    static double Newton(double p, double h, double T, Func<double, double, PhasePoint> phase)
    {
        for (var k = 0; k < 60; k++)
        {
            var point = phase(p, T);
            var step = Math.Clamp((h - point.Enthalpy) / Math.Max(500, point.HeatCapacity), -60, 60);
            T += step;
            if (Math.Abs(step) < 1e-11 * T)
                break;
        }

        return T;
    }

    public FluidState Liquid(double p, double h)
    {
        var (T, Tp, Th) = liquidT.At(p, h);
        var (v, vp, vh) = liquidV.At(p, h);
        return new FluidState(T, Tp, Th, v, vp, vh);
    }

    public FluidState Vapour(double p, double h)
    {
        var x = Math.Log(p);
        var (h0, h0x) = vapourH.At(x);
        var width = VapourHigh - h0;
        var y = (h - h0) / width;
        // Along x at constant h: y moves as the line does.
        var yx = h0x * (y - 1) / width;
        var (T, Tx, Ty) = vapourT.At(x, y);
        var (pv, pvx, pvy) = vapourPv.At(x, y);
        return new FluidState(T, (Tx + Ty * yx) / p, Ty / width, pv / p, ((pvx + pvy * yx) - pv) / (p * p), pvy / (width * p));
    }

    /// <summary>Enthalpies of boiling liquid and of its vapour, with their slopes along the logarithm of the pressure.</summary>
    public ((double Value, double Slope) Liquid, (double Value, double Slope) Vapour) Saturation(double p)
    {
        var x = Math.Log(p);
        return (liquidH.At(x), vapourH.At(x));
    }
}
