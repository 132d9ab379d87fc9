namespace AnchorBend.Design;

/// <summary>What a stable loop with an integral part makes of a unit step of its set-point.</summary>
/// <param name="Overshoot">How far it goes beyond, as a share of the step.</param>
/// <param name="Settling">Time after which it stays within 2 %, s; null where that is later than is looked at.</param>
public sealed record SetPointStep(double Overshoot, double? Settling)
{
    const double Band = 0.02;

    /// <summary>Points of one look, and how long it is in times of the loop's pace; later looks are for slow ends.</summary>
    const int Points = 2000;

    static readonly double[] Looks = [40, 1000, 25_000];

    /// <summary>Read from responses on the loop's own time scale, so that neither a fast peak nor a slow end is missed by a plot's
    /// grid.</summary>
    public static SetPointStep Of(LinearSystem closed, LoopFigures figures)
    {
        var pace =
            1 / Math.Max(figures.Margins.GainCrossings.Select(c => c.Frequency).DefaultIfEmpty(figures.Sensitivity.Frequency).Max(), 1e-12);
        var overshoot = 0.0;
        foreach (var look in Looks)
        {
            var period = figures.Gains.Period;
            var step =
                period > 0
                    ? StepResponse.OfSampled(closed, period, Math.Max(40 * period, look * pace), Points, isHeld: false)
                    : StepResponse.Of(closed, look * pace, Points);
            overshoot = Math.Max(overshoot, step.Values.Max() - 1);
            var last = Array.FindLastIndex(step.Values, v => !(Math.Abs(v - 1) <= Band));
            // What has only just come in may go out again.
            if (last < Points * 3 / 4)
                return new SetPointStep(overshoot, step.Times[last + 1]);
        }

        return new SetPointStep(overshoot, null);
    }
}
