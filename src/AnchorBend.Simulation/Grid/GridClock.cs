using AnchorBend.Compiler.Planning;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Terms;

namespace AnchorBend.Simulation.Grid;

/// <summary>A sample clock in whole steps.</summary>
/// <param name="Flag">The variable that it sets when it ticks.</param>
/// <param name="First">The step of its first tick.</param>
/// <param name="Every">Steps from one tick to the next.</param>
public sealed record GridClock(int Flag, long First, long Every)
{
    public bool Ticks(long step) => step >= First && (step - First) % Every == 0;

    /// <summary>Sample times may differ from whole steps by this part, as decimal fractions round.</summary>
    const double Rounding = 1e-9;

    /// <summary>The clocks of a plan on a grid.</summary>
    /// <exception cref="SimulationException">A sample time is no whole number of steps.</exception>
    public static IReadOnlyList<GridClock> Of(ExecutionPlan plan, ParameterSet parameters, double step)
    {
        var evaluator = new TermEvaluator(i => parameters.Values[i]);
        return
        [
            .. plan.Model.Clocks.Select(c =>
            {
                var (start, interval) = (evaluator.Evaluate(c.Start), evaluator.Evaluate(c.Interval));
                var (first, every) = (Math.Round(start / step), Math.Round(interval / step));
                if (
                    every >= 1
                    && first >= 0
                    && Math.Abs(every * step - interval) <= Rounding * interval
                    && Math.Abs(first * step - start) <= Rounding * Math.Max(step, start)
                )
                    return new GridClock(c.Flag, (long)first, (long)every);
                throw new SimulationException(
                    new SimulationFailure(
                        "grid",
                        string.Create(
                            System.Globalization.CultureInfo.InvariantCulture,
                            $"It is sampled every {interval:G6} s from {start:G6} s on, which is no whole number of steps of {step:G6} s."
                        ),
                        c.Owner,
                        null,
                        0,
                        "Take a step that all sample times are multiples of."
                    )
                );
            }),
        ];
    }
}
