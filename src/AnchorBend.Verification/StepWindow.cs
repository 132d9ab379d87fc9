namespace AnchorBend.Verification;

/// <summary>The stretch of a run between a step of a set-point and the next one, by rows.</summary>
/// <param name="First">The last row before the step: what a response begins from.</param>
/// <param name="Last">The last row before the next one.</param>
/// <param name="IsCut">Whether another step ends it.</param>
readonly record struct StepWindow(int First, int Last, double From, double To, bool IsCut)
{
    /// <summary>Steps smaller than this part of the largest are those of samples or noise, not ones that somebody set.</summary>
    const double Least = 0.1;

    /// <summary>
    /// The steps of a set-point: jumps at an event, or from one row to the next between rows that are level (runs in fixed steps and
    /// recordings have no rows for both sides). The start of the run counts where the signal begins away from the set-point. A set-point
    /// that only moves steadily has none.
    /// </summary>
    public static IReadOnlyList<StepWindow> Of(Curve reference, Curve signal, double end)
    {
        var (times, values) = (reference.Times, reference.Values);
        var count = values.Length;
        if (count < 2 || !Array.TrueForAll(values, double.IsFinite))
            return [];
        // The row before a jump, the first row behind it, and by how much the set-point is another one.
        var jumps = new List<(int Before, int Row, double Size)>();
        for (var i = 1; i < count; i++)
        {
            if (values[i] == values[i - 1] || !IsJump(i))
                continue;
            // Several events at one instant are one step.
            if (jumps.Count > 0 && times[jumps[^1].Row] == times[i])
                jumps[^1] = (jumps[^1].Before, i, jumps[^1].Size + values[i] - values[i - 1]);
            else
                jumps.Add((i - 1, i, values[i] - values[i - 1]));
        }

        if (jumps.Count == 0)
            return [];
        var largest = jumps.Max(j => Math.Abs(j.Size));
        var steps = jumps.FindAll(j => Math.Abs(j.Size) >= Least * largest);
        if (times[steps[0].Row] > times[0] && Math.Abs(values[0] - signal.Values[0]) >= Least * largest)
            steps.Insert(0, (0, 0, 0));
        return
        [
            .. steps.Select(
                (s, i) =>
                    i + 1 < steps.Count
                        ? new StepWindow(s.Before, steps[i + 1].Before, times[s.Row], times[steps[i + 1].Row], true)
                        : new StepWindow(s.Before, count - 1, times[s.Row], end, false)
            ),
        ];

        bool IsJump(int i) =>
            times[i] == times[i - 1]
            || (i < 2 || times[i - 1] == times[i - 2] || values[i - 1] == values[i - 2])
                && (i + 1 == count || times[i + 1] == times[i] || values[i + 1] == values[i]);
    }
}
