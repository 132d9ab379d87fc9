using System.Runtime.InteropServices;
using AnchorBend.Compiler.Derivation;
using AnchorBend.Compiler.Emission;

namespace AnchorBend.Simulation;

/// <summary>Runs a <see cref="JacobianProgram"/> for one instance, without allocating.</summary>
sealed unsafe class JacobianEvaluator : IDisposable
{
    readonly ModelInstance instance;
    readonly JacobianProgram program;
    readonly double[] slots;
    double* work;
    readonly double* partials,
        slope,
        column;

    public JacobianEvaluator(ModelInstance instance, JacobianProgram program)
    {
        (this.instance, this.program) = (instance, program);
        slots = new double[program.SlotCount];
        slots[0] = 1;
        var largest = program
            .Steps.Where(s => s.Loop >= 0)
            .Select(s => instance.Compiled.Loops[s.Loop].Torn.Length)
            .DefaultIfEmpty(0)
            .Max();
        var (p, n) = (program.Partials.Length, instance.StateCount);
        work = (double*)NativeMemory.AllocZeroed((nuint)(p + n + largest + 1), sizeof(double));
        partials = work;
        slope = partials + p;
        column = slope + n;
        program.Partials.CopyTo(new Span<double>(partials, p));
    }

    /// <summary>Evaluates the model at a time and state and writes the pattern's values in its order.</summary>
    public void Evaluate(double time, double* x, double* values)
    {
        instance.Evaluate(time, x, slope, EvaluationMode.Derivatives);
        FromPresent(time, x, slope, values);
    }

    /// <summary>The same after an evaluation that has been made already.</summary>
    public void FromPresent(double time, double* x, double* dx, double* values)
    {
        for (var c = 0; c < program.Code.Length; c++)
            program.Code[c](instance, time, x, dx, instance.Memory, EvaluationMode.Derivatives, partials + program.CodeOffsets[c]);
        var starts = program.TermStarts;
        fixed (
            int* factor = program.TermPartials,
                source = program.TermSources
        )
        fixed (double* slot = slots)
        {
            foreach (var step in program.Steps)
            {
                for (var i = step.From; i < step.To; i++)
                {
                    var sum = 0.0;
                    for (var t = starts[i]; t < starts[i + 1]; t++)
                        sum += partials[factor[t]] * slot[source[t]];
                    slot[i] = sum;
                }

                if (step.Loop >= 0)
                    SolveLoop(step, time, x, dx, slot);
            }
        }

        var places = program.PatternSlots;
        for (var i = 0; i < places.Length; i++)
            values[i] = slots[places[i]];
    }

    void SolveLoop(JacobianStep step, double time, double* x, double* dx, double* slot)
    {
        var n = instance.Compiled.Loops[step.Loop].Torn.Length;
        // A singular loop has no derivative; its solver will say so, here it counts as unmoved.
        var solver = instance.Loop(step.Loop);
        var regular = solver.Factorize(time, x, dx, EvaluationMode.Derivatives) < 0;
        for (var c = 0; c < step.Columns; c++)
        {
            for (var i = 0; i < n; i++)
                column[i] = regular ? -slot[step.Residuals + c * n + i] : 0;
            if (regular)
                solver.Apply(column);
            for (var i = 0; i < n; i++)
                slot[step.Torn + c * n + i] = column[i];
        }
    }

    public void Dispose()
    {
        if (work != null)
            NativeMemory.Free(work);
        work = null;
    }
}
