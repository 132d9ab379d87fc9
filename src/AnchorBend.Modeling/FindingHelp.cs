namespace AnchorBend.Modeling;

/// <summary>Longer explanations of findings that are not mistakes but worth knowing.</summary>
public static class FindingHelp
{
    static readonly Dictionary<string, string> Articles = new()
    {
        ["algebraic-loop"] =
            "The outputs of these parts depend on each other within one instant, so no order of evaluation exists. A few of the "
            + "variables are guessed "
            + "and Newton's method makes the equations agree, at every evaluation; the last solution is the first guess, so of "
            + "several solutions the one that continues "
            + "the motion is taken. Results are right, but each evaluation costs more. If the loop is not meant, look for a "
            + "feedback path without any dynamics. If it is, "
            + "leave it, or put a short lag where the real system has one.",
        ["index-reduction"] =
            "Parts that are connected rigidly cannot move on their own: an equation ties their positions, speeds or voltages. "
            + "Such an equation holds for all time, "
            + "so its time derivative holds too; with it the highest derivatives can be computed and as many states fewer are "
            + "needed. Start values that must hold, do: the "
            + "states are solved for them, and values against each other stop the run with both names. Of parts that move as one, "
            + "give a start value to one; the others follow. "
            + "The attribute stateSelect influences which become states. For motions in a circle and the like no choice is good "
            + "all the time; then the run changes it, which the statistics count.",
        ["stiff"] =
            "A model is stiff when some of its motions die out much faster than the ones you look at: a motor's current beside a "
            + "ship, a small valve volume beside a tank. "
            + "Explicit methods must take steps as short as the fastest motion even when it has long died out; implicit ones need "
            + "not, but solve equations at every step. "
            + "The automatic method changes to an implicit one when it notices this, and back when it ends. If such a run is "
            + "slow, look at the states that kept its steps "
            + "short, and whether you need them: a much faster part can often be replaced by its final value.",
        ["chattering"] =
            "A switch turns something on, which at once makes it turn off again, without end: an ideal relay at its threshold, "
            + "dry friction at standstill. "
            + "In reality the quantity slides along the threshold. Two ways on: give the switch a hysteresis, so that it takes a "
            + "finite time to come back; or replace the jump "
            + "by a steep but continuous curve, the sliding average, whose slope is as large as the accuracy you need. Bounces "
            + "that lose a share of their speed each time are "
            + "another case: infinitely many of them end at one instant, and nothing in the model says what comes then. Let the "
            + "motion come to rest below a small speed. "
            + "The run is kept up to the time it happened.",
        ["small-state"] =
            "The absolute tolerance says how large an error of a state may be near zero; 1e-9 is far below most quantities, but "
            + "above a current of a picoampere or a mass of a "
            + "nanogram. Such a state may have no right digit at all. Give it the attribute nominal with a typical size, which "
            + "scales its tolerance, choose a unit in which it is not tiny, or "
            + "lower the absolute tolerance of the run. A state that should be zero and is not but for rounding needs nothing.",
        ["discrete-loop"] =
            "Values that change at events only must follow from each other in some order. Here they need each other at the same "
            + "instant. One of them has to use the other's "
            + "value from before, pre(…), as a controller does that computes with the last sample.",
        ["start"] =
            "At the start, what is fixed and what the equations demand must agree. Values that must hold count as equations; "
            + "states that nothing fixes are solved for them from "
            + "their start values as guesses. Where parts are joined rigidly, only one of them can say how they begin. Where a "
            + "square or an angle has several solutions, a guess "
            + "near the wanted one decides.",
        ["high-index"] =
            "An equation ties quantities that would be states on their own, and differentiating it does not lead to a model that "
            + "can be solved, because something "
            + "else is left undetermined or holds no derivative, such as a delayed signal.",
    };

    /// <summary>The explanation of a kind of finding; null where its message says all.</summary>
    public static string? Of(string code) => Articles.GetValueOrDefault(code);
}
