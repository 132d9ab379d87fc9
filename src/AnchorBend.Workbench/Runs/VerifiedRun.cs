using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;

namespace AnchorBend.Workbench.Runs;

/// <summary>A run with the verdicts on the requirements of its model.</summary>
public sealed record VerifiedRun(RunResult Result, IReadOnlyList<Verdict> Verdicts)
{
    /// <param name="progress">Told the simulated time now and then.</param>
    /// <exception cref="SimulationException">The run cannot begin.</exception>
    public static VerifiedRun Of(
        PreparedModel prepared,
        ParameterSet parameters,
        RunOptions options,
        ModelDocument document,
        CancellationToken cancellation,
        Action<double>? progress = null
    )
    {
        using var session = new RunSession(prepared, parameters, options);
        session.Advance(new PauseAt(), cancellation, progress);
        return Of(session, document);
    }

    /// <summary>What a session has left so far, with the verdicts on it.</summary>
    public static VerifiedRun Of(RunSession session, ModelDocument document)
    {
        var result = session.Result();
        return new VerifiedRun(result, Judged(session, result.Trace, document));
    }

    /// <summary>The verdicts on what a session has recorded; those that the rest of the run may still change are open.</summary>
    public static IReadOnlyList<Verdict> SoFar(RunSession session, ModelDocument document) => Judged(session, session.Trace, document);

    static IReadOnlyList<Verdict> Judged(RunSession session, Trace trace, ModelDocument document)
    {
        var (prepared, parameters, options) = (session.Prepared, session.Parameters, session.Options);
        var check = new RequirementCheck(prepared, parameters, trace, options.Start, options.End, document.Measures);
        return [.. document.Requirements.Select(r => check.Check(r.Key, r.Value))];
    }
}
