using AnchorBend.Numerics.Linear;

namespace AnchorBend.Compiler.Emission;

/// <summary>A method that fills a stretch of a vector from an offset on.</summary>
public sealed record CodeStretch(VectorMethod Method, int Offset);

/// <summary>Generated code of an algebraic loop.</summary>
/// <param name="Jacobian">Row by row for a torn loop; in the order of the pattern otherwise.</param>
/// <param name="Pattern">Where the Jacobian of a loop that is not torn can be other than zero; null for a torn one.</param>
public sealed record LoopCode(CodeStretch[] Residuals, CodeStretch[] Jacobian, SparsePattern? Pattern)
{
    public unsafe void EvaluateResiduals(ModelRuntime runtime, double time, double* x, double* dx, double* memory, int mode, double* result)
    {
        foreach (var stretch in Residuals)
            stretch.Method(runtime, time, x, dx, memory, mode, result + stretch.Offset);
    }

    public unsafe void EvaluateJacobian(ModelRuntime runtime, double time, double* x, double* dx, double* memory, int mode, double* result)
    {
        foreach (var stretch in Jacobian)
            stretch.Method(runtime, time, x, dx, memory, mode, result + stretch.Offset);
    }
}
