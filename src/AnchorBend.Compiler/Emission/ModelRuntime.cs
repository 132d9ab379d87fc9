namespace AnchorBend.Compiler.Emission;

/// <summary>What generated code asks for while it runs: delayed values and solutions of algebraic loops.</summary>
public abstract unsafe class ModelRuntime
{
    /// <summary>The value that the source of a delay had its delay time before <paramref name="time"/>.</summary>
    public abstract double Delayed(int delay, double time);

    /// <summary>The same for a delay time that varies.</summary>
    public abstract double DelayedBy(int delay, double time, double duration);

    /// <summary>Solves an algebraic loop; its variables in memory hold the guess and then the solution.</summary>
    public abstract void SolveLoop(int loop, double time, double* x, double* dx, double* memory, int mode);
}

/// <summary>What an evaluation has to do.</summary>
public static class EvaluationMode
{
    /// <summary>Derivatives and event functions only; relations keep their truth.</summary>
    public const int Derivatives = 0;

    /// <summary>All values; relations keep their truth.</summary>
    public const int Outputs = 1;

    /// <summary>All values, relations and discrete variables anew.</summary>
    public const int Event = 2;
}

/// <summary>A stretch of generated code.</summary>
/// <param name="x">States.</param>
/// <param name="dx">Derivatives.</param>
/// <param name="memory">All other values, by <see cref="MemoryLayout"/>.</param>
public unsafe delegate void ChunkMethod(ModelRuntime runtime, double time, double* x, double* dx, double* memory, int mode);

/// <summary>Residuals or Jacobian of a loop, or the event indicators, into <paramref name="result"/>.</summary>
public unsafe delegate void VectorMethod(
    ModelRuntime runtime,
    double time,
    double* x,
    double* dx,
    double* memory,
    int mode,
    double* result
);
