using AnchorBend.Language.Terms;
using AnchorBend.Numerics;
using AnchorBend.Simulation.Events;

namespace AnchorBend.Simulation.Stepping;

/// <summary>Events that accumulate are told, before or just after their distances fall below what numbers resolve.</summary>
sealed unsafe class AccumulationGuard(Motion motion, EventIndicators indicators) : ISaved
{
    readonly RunOptions options = motion.Options;
    readonly ModelInstance model = motion.Model;
    readonly AccumulationWatch accumulation = new(indicators.Count);

    /// <summary>Parts of the run: what is left to the accumulation when it is certain, and when a missed event is suspected; of changes
    /// that do not agree on its instant, only when that is near.</summary>
    const double Accumulated = 1e-9,
        Suspected = 1e-4,
        Near = 1e-7;

    /// <summary>How many times the time left may pass without an event that was due.</summary>
    const double Overdue = 10;

    /// <summary>The condition that changed last, what it became and its event indicator then; −1 where none may be accumulating.</summary>
    int suspect = -1;
    bool suspectTruth;
    double suspectZero;

    /// <summary>Whether some condition may be accumulating.</summary>
    public bool IsSuspicious => suspect >= 0;

    /// <summary>Notes the change of a watched condition at an event.</summary>
    public void Note(int k, double time)
    {
        var becomesTrue = model.Memory[indicators.PlaceOfTruth(k)] == 0;
        accumulation.Note(k, becomesTrue, time);
        var left = accumulation.Left(k, becomesTrue);
        var span = options.End - options.Start;
        if (left <= Accumulated * span)
            throw new SimulationException(Accumulation(k, becomesTrue));
        suspect = left <= (accumulation.Agrees(k, becomesTrue) ? Suspected : Near) * span ? k : -1;
        (suspectTruth, suspectZero) = (becomesTrue, Math.Abs(indicators.Values[k]));
    }

    /// <summary>
    /// Where a condition that changed ever sooner did not change any more, and the motion goes on beyond it: the last flights were too
    /// short to be seen, and what should have come back falls through.
    /// </summary>
    public void Check(double time)
    {
        if (suspect < 0 || time - accumulation.Last(suspect, suspectTruth) < Overdue * accumulation.Left(suspect, suspectTruth))
            return;
        var k = suspect;
        if (model.Memory[indicators.PlaceOfTruth(k)] != 0 != suspectTruth)
        {
            suspect = -1;
            return;
        }

        indicators.At(time);
        if (Math.Abs(indicators.Values[k]) > Math.Max(1e3 * suspectZero, 1e-6 * options.AbsoluteTolerance))
            throw new SimulationException(Accumulation(k, suspectTruth));
    }

    SimulationFailure Accumulation(int k, bool becomesTrue)
    {
        var relation = motion.Plan.Relations[motion.Compiled.StateRelations[k]];
        var what = TermText.Print(relation.Term, motion.Plan.Model.NameOf);
        var time = accumulation.Last(k, becomesTrue);
        return new SimulationFailure(
            "chattering",
            $"'{what}' becomes {(becomesTrue ? "true" : "false")} ever sooner, the last time after "
                + $"{accumulation.Distance(k, becomesTrue):G3} s, "
                + $"and would do so endlessly at {time:G8} s.",
            relation.Owner,
            null,
            time,
            "Let the motion come to rest below a small speed, or give the switch hysteresis."
        );
    }

    public void Transfer(StateArchive archive)
    {
        accumulation.Transfer(archive);
        archive.Transfer(ref suspect);
        archive.Transfer(ref suspectTruth);
        archive.Transfer(ref suspectZero);
    }
}
