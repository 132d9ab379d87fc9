using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Binding;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Design;

/// <summary>
/// Real values that change at events only and lie on a path from an input to an output: a sample and hold, a digital controller. A linear
/// system of what happens between events does not contain what goes through them.
/// </summary>
static class SampledPath
{
    /// <summary>Refuses where such a value lies between input and output.</summary>
    /// <exception cref="DesignException">Names the parts.</exception>
    public static void Refuse(ExecutionPlan plan, int input, int output)
    {
        var flow = new SignalFlow(plan);
        var reached = flow.From(input);
        var reaching = flow.To(plan.Representative[output]);
        var parts = plan
            .Model.Variables.Where(v =>
                v is { Role: VariableRole.Discrete, Type: ScalarType.Real } && reached.Contains(v.Index) && reaching.Contains(v.Index)
            )
            .Select(v => v.Owner.Length > 0 ? v.Owner : v.Name)
            .Distinct()
            .ToList();
        if (parts.Count == 0)
            return;
        throw new DesignException(
            "sampled",
            $"Between the signals lies what works at samples or events only "
                + $"({string.Join(", ", parts.Take(5))}{(parts.Count > 5 ? " and others" : "")}); "
                + "a continuous linear system cannot hold it.",
            "Linearise the continuous part alone, from the held output to the measured signal, or open the loop at the sampled part."
        );
    }
}
