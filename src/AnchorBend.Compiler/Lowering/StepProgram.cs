using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Lowering;

/// <summary>
/// A plan as routines for a target that goes from step to step: terms of parameters stay where they stand, as whoever reads the code
/// wants to see them, and nothing watches for crossings.
/// </summary>
public sealed class StepProgram
{
    StepProgram(ExecutionPlan plan)
    {
        Plan = plan;
        Layout = new MemoryLayout(plan) { Hoists = false };
        (Program, Loops) = PlanLowering.Lower(plan, Layout, new EventIndicators(plan, []));
        // What is asked for later may not move what has its place.
        Layout.Seal();
    }

    public static StepProgram Of(ExecutionPlan plan) => new(plan);

    public ExecutionPlan Plan { get; }

    public MemoryLayout Layout { get; }

    public LoweredProgram Program { get; }

    /// <summary>In the order in which the program numbers them.</summary>
    public IReadOnlyList<LoopBlock> Loops { get; }

    /// <summary>The values of terms, one by one.</summary>
    public Routine Terms(IReadOnlyList<Term> terms) => PlanLowering.Terms(Plan, Layout, terms);
}
