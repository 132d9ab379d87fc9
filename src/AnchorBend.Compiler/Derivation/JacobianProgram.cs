using AnchorBend.Compiler.Emission;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Compiler.Derivation;

/// <summary>
/// How to compute the exact derivatives of some outputs of a plan along its states by the chain rule, block by block (forward accumulation;
/// Griewank and Walther, "Evaluating Derivatives", 2nd ed., ch. 3). Generated code gives the local derivatives of every block, a list of
/// sums of products joins them. What is structurally zero does not appear.
/// </summary>
public sealed class JacobianProgram
{
    /// <summary>Outputs by rows, states by columns.</summary>
    public required SparsePattern Pattern { get; init; }

    /// <summary>The slot that holds each value of the pattern.</summary>
    public required int[] PatternSlots { get; init; }

    /// <summary>Slot 0 holds the number one; every other is a sum over its terms, or a solution of an algebraic loop.</summary>
    public required int SlotCount { get; init; }

    /// <summary>Terms of slot i lie from <c>TermStarts[i]</c> to <c>TermStarts[i + 1]</c>: local derivative times another slot.</summary>
    public required int[] TermStarts { get; init; }

    public required int[] TermPartials { get; init; }

    public required int[] TermSources { get; init; }

    public required IReadOnlyList<JacobianStep> Steps { get; init; }

    /// <summary>Local derivatives that never change; computed ones are filled in at run time.</summary>
    public required double[] Partials { get; init; }

    /// <summary>Code for the local derivatives, each from <see cref="CodeOffsets"/> on.</summary>
    public required VectorMethod[] Code { get; init; }

    public required int[] CodeOffsets { get; init; }
}

/// <summary>One stretch of the program: slots to sum up, then possibly a loop to solve for the slots behind them.</summary>
/// <param name="From">First slot to sum up.</param>
/// <param name="To">The slot behind the last.</param>
/// <param name="Loop">Index of the loop; −1 for none.</param>
/// <param name="Residuals">First slot of the residuals' derivatives, column by column.</param>
/// <param name="Torn">First slot of the torn variables' derivatives, column by column.</param>
public sealed record JacobianStep(int From, int To, int Loop = -1, int Residuals = 0, int Torn = 0, int Columns = 0);
