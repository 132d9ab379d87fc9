using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Analysis;

/// <summary>What a term may hold beside parameters and still be called known.</summary>
[Flags]
enum Allowed
{
    Nothing = 0,
    Time = 1,
    Relations = 2,
}

/// <summary>What a term depends on.</summary>
static class Dependence
{
    /// <summary>
    /// Whether a term is made of numbers and parameters alone, so that it has one value all through a run. What remembers (delays, values
    /// from before an event) is never known, nor are relations, which events hold, unless they are allowed.
    /// </summary>
    public static bool OnParameters(Term term, FlatModel model, Allowed also = Allowed.Nothing) => !TermBuilder.Any(term, t => t switch
            {
                DelayTerm or PreviousTerm or SequenceTerm or SequenceResultTerm => true,
                RelationTerm => !also.HasFlag(Allowed.Relations),
                VariableTerm { Index: FlatModel.TimeIndex } => !also.HasFlag(Allowed.Time),
                VariableTerm v => model.Variables[v.Index].Role != VariableRole.Parameter,
                _ => false,
            });
}
