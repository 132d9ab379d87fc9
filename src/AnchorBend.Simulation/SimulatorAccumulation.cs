using AnchorBend.Language.Terms;
using AnchorBend.Simulation.Events;

namespace AnchorBend.Simulation;

/// <summary>Events that accumulate are told, before or just after their distances fall below what numbers resolve.</summary>
public sealed unsafe partial class Simulator
{
    /// <summary>Parts of the run: what is left to the accumulation when it is certain, and when a missed event is suspected.</summary>
    const double Accumulated = 1e-9,
        Suspected = 1e-4;

    /// <summary>How many times the time left may pass without an event that was due.</summary>
    const double Overdue = 10;

    AccumulationWatch accumulation = new(0);

    /// <summary>The condition that changed last, what it became and its event indicator then; −1 where none may be accumulating.</summary>
    int suspect = -1;
    bool suspectTruth;
    double suspectZero;

    /// <summary>Notes the change of a watched condition at an event.</summary>
    void NoteAccumulation(int k, double time)
    {
        var becomesTrue = model.Memory[truths[k].Place] == 0;
        accumulation.Note(k, becomesTrue, time);
        var left = accumulation.Left(k, becomesTrue);
        var span = options.End - options.Start;
        if (left <= Accumulated * span)
            throw new SimulationException(Accumulation(k, becomesTrue));
        suspect = left <= Suspected * span ? k : -1;
        (suspectTruth, suspectZero) = (becomesTrue, Math.Abs(zeroes[k]));
    }

    /// <summary>
    /// Where a condition that changed ever sooner did not change any more, and the motion goes on beyond it: the last flights were too
    /// short to be seen, and what should have come back falls through.
    /// </summary>
    void CheckAccumulation(double time)
    {
        if (suspect < 0 || time - accumulation.Last(suspect, suspectTruth) < Overdue * accumulation.Left(suspect, suspectTruth))
            return;
        var k = suspect;
        if (model.Memory[truths[k].Place] != 0 != suspectTruth)
        {
            suspect = -1;
            return;
        }

        ZerosAt(time, zeroes);
        if (Math.Abs(zeroes[k]) > Math.Max(1e3 * suspectZero, 1e-6 * options.AbsoluteTolerance))
            throw new SimulationException(Accumulation(k, suspectTruth));
    }

    SimulationFailure Accumulation(int k, bool becomesTrue)
    {
        var relation = plan.Relations[compiled.StateRelations[k]];
        var what = TermText.Print(relation.Term, plan.Model.NameOf);
        var time = accumulation.Last(k, becomesTrue);
        return new SimulationFailure(
            "chattering",
            $"'{what}' becomes {(becomesTrue ? "true" : "false")} ever sooner, the last time after {accumulation.Distance(k, becomesTrue):G3} s, "
                + $"and would do so endlessly at {time:G8} s.",
            relation.Owner,
            null,
            time,
            "Let the motion come to rest below a small speed, or give the switch hysteresis."
        );
    }
}
