using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;

namespace AnchorBend.Cli;

/// <summary>What <c>anchor-bend linear</c> prints where samples lie between the signals: the discrete system from one period to the
/// next.</summary>
static class SampledLinear
{
    public static object Of(
        SampledSystem sampled,
        PreparedModel prepared,
        OperatingPoint point,
        (string From, string To, string? Open) signals,
        IReadOnlyList<double> points
    )
    {
        var system = sampled.Held().Reduced();
        var period = sampled.Period;
        var poles = PolesAndZeros.Poles(system);
        // Cut where a value is held, all that comes back is what samples make of it.
        var isLoop = signals.Open == signals.From && SampledPath.IsHeld(prepared, signals.From);
        var loop = isLoop ? SampledPlane.Of(signals.From == signals.To ? LinearCommand.Negated(system) : system, period) : null;
        var margins = loop is null ? null : SampledPlane.Margins(loop, period);
        return new
        {
            from = signals.From,
            to = signals.To,
            open = signals.Open,
            operatingPoint = LinearCommand.Name(point),
            period,
            states = system.States,
            a = LinearCommand.Rows(system.A),
            b = system.B,
            c = system.C,
            d = system.D,
            poles = poles.Select(LinearCommand.Pair),
            zeros = PolesAndZeros.Zeros(system).Select(LinearCommand.Pair),
            isStable = poles.All(p => p.Magnitude < 1),
            modes = poles.Where(p => p.Imaginary >= 0 && p != Complex.Zero).Select(p => LinearCommand.Mode(Complex.Log(p) / period)),
            gainMargins = margins?.PhaseCrossings.Select(c => new
            {
                frequency = c.Frequency,
                factor = c.Margin,
                decibel = 20 * Math.Log10(c.Margin),
            }),
            phaseMargins = margins?.GainCrossings.Select(c => new { frequency = c.Frequency, degrees = c.Margin }),
            closed = loop is null ? null : LinearCommand.Closed(loop, margins!, period),
            response = points.Select(w => LinearCommand.Response(w, sampled.At(w))),
            responseAtSamples = points.Select(w => LinearCommand.Response(w, system.At(Complex.Exp(new Complex(0, w * period))))),
        };
    }
}
