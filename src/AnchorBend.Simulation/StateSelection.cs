using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Simulation.Stepping;

namespace AnchorBend.Simulation;

/// <summary>Models of high index: which choice of states suits the start, and whether another one becomes better.</summary>
static class StateSelection
{
    /// <summary>Logarithm of how much better another choice must be: changing costs a restart, so it must not go to and fro.</summary>
    public static readonly double WorthChanging = Math.Log(2.5);

    /// <summary>Parameters may have changed since the plan was made: the choice must suit the start values of this run.</summary>
    /// <returns>The plan of another choice; null where the present one suits.</returns>
    public static CompiledPlan? AtStart(Motion motion)
    {
        if (motion.Plan.Reduced is not { } reduced)
            return null;
        var parameters = motion.Model.Parameters;
        var chosen = reduced.Model.ChooseAtStart(parameters.Values, parameters.Starts, motion.Options.Start);
        return chosen is null || chosen.AsSpan().SequenceEqual(reduced.Dummies) ? null : motion.Compiled.ForChoice(chosen);
    }
}

/// <summary>Watches one choice of states for another that would determine the rest much better.</summary>
sealed class StateChoiceReview(Motion motion)
{
    readonly HashSet<int> dummies = [.. motion.Plan.Reduced?.Dummies ?? []];
    readonly StateChoice.Review[] reviews =
    [
        .. (motion.Plan.Reduced?.Model.Choices ?? []).Where(c => c.IsDynamic).Select(c => new StateChoice.Review(c)),
    ];

    /// <returns>The plan of a much better choice at the end of the last step; null where there is none.</returns>
    public CompiledPlan? Better()
    {
        if (motion.Plan.Reduced is not { } reduced)
            return null;
        var isPoor = false;
        foreach (var review in reviews)
        {
            review.Read(motion.ValueByTerm);
            isPoor |= review.BestQuality() > review.QualityOf(dummies) + StateSelection.WorthChanging;
        }

        if (!isPoor || reduced.Model.Choose(motion.ValueByTerm) is not { } chosen || chosen.AsSpan().SequenceEqual(reduced.Dummies))
            return null;
        return motion.Compiled.ForChoice(chosen);
    }
}
