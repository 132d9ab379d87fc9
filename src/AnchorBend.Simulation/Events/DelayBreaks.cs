using AnchorBend.Compiler.Analysis;
using AnchorBend.Simulation.Stepping;

namespace AnchorBend.Simulation.Events;

/// <summary>Jumps of delayed signals and of their derivatives: what goes into a delay comes out of it, one level smoother where it passes a
/// state.</summary>
sealed class DelayBreaks(Motion motion)
{
    readonly ModelInstance model = motion.Model;

    /// <summary>For each delay those whose output its source feels at once.</summary>
    readonly HashSet<int>[] delayPaths = DelayPaths.Find(motion.Plan);

    /// <summary>The level of what comes out of each delay now.</summary>
    readonly int[] levels = new int[motion.Plan.Model.Delays.Count];

    /// <summary>Takes what comes out of the delays at an instant.</summary>
    /// <returns>The lowest level of it: 0 where a value jumps.</returns>
    public int Pass(double time)
    {
        var lowest = DelayHistory.HighestBreak + 1;
        for (var d = 0; d < levels.Length; d++)
            lowest = Math.Min(lowest, levels[d] = model.Delays[d].PassBreaks(time));
        return lowest;
    }

    /// <summary>What jumps now goes into the delays: what comes out of others, or, where something else happened too, anything.</summary>
    public void Propagate(double time, bool isBreakOnly)
    {
        for (var d = 0; d < levels.Length; d++)
        {
            var level = isBreakOnly ? DelayHistory.HighestBreak + 1 : 0;
            for (var from = 0; from < levels.Length && level > 0; from++)
                level = Math.Min(level, delayPaths[d].Contains(from) ? levels[from] : levels[from] + 1);
            model.Delays[d].Break(time, level);
        }
    }
}
