namespace AnchorBend.Delivery;

/// <summary>Where code and model part.</summary>
/// <param name="Output">Name of the output.</param>
/// <param name="Step">From 0.</param>
/// <param name="Model">Null where it is no number, or without bound; so is what the code gave.</param>
public sealed record Parting(string Output, long Step, double? Model, double? Code);

/// <summary>What a comparison of code with the model came to.</summary>
/// <param name="Compiler">What the compiler said; empty where it said nothing.</param>
/// <param name="Steps">That were compared.</param>
/// <param name="First">Where they part first; null where they do not.</param>
/// <param name="Largest">By output how far they are apart at most.</param>
/// <param name="Unsolved">Times that an algebraic loop was not solved, in the model as in the code.</param>
/// <param name="Unsettled">Steps in which decisions did not settle.</param>
public sealed record BackToBackResult(
    string Compiler,
    long Steps,
    Parting? First,
    IReadOnlyDictionary<string, double> Largest,
    long Unsolved,
    long Unsettled
)
{
    public bool AreSame => First is null;
}

/// <summary>Runs generated code and the model step by step on the same inputs, and compares all outputs.</summary>
public static class BackToBack
{
    /// <param name="inputs">A row for each step, in the order of the unit's inputs.</param>
    /// <exception cref="DeliveryException">The code does not compile or run.</exception>
    public static BackToBackResult Compare(CodeUnit unit, IReadOnlyList<double[]> inputs, CancellationToken wanted = default)
    {
        using var bench = CodeBench.Build(unit, false, wanted);
        return bench.Run(unit, inputs, wanted);
    }
}
