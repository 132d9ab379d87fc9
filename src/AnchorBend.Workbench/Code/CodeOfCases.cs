using AnchorBend.Delivery;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Workbench.Cases;

namespace AnchorBend.Workbench.Code;

/// <summary>How a case went on the code.</summary>
public enum CodeCaseOutcome
{
    /// <summary>Code and model gave the same.</summary>
    Same,

    /// <summary>They part.</summary>
    Apart,

    /// <summary>It could not be run on this code; the message says why.</summary>
    NotRun,
}

/// <param name="Message">Why it was not run, where code and model part, or what was left out.</param>
/// <param name="Steps">That were compared.</param>
/// <param name="First">Where code and model part.</param>
/// <param name="Unsolved">Times that an algebraic loop was not solved, in both.</param>
/// <param name="Unsettled">Steps in which decisions did not settle, in both.</param>
public sealed record CodeCase(
    string Id,
    string Name,
    CodeCaseOutcome Outcome,
    string? Message,
    long Steps,
    Parting? First,
    long Unsolved,
    long Unsettled
);

/// <summary>Runs the cases of a model on the code of one of its parts: what the part was given in the run of a case goes into the code step
/// by step, and what comes out is compared with the same part run in the same steps.</summary>
/// <param name="bench">The code, compiled.</param>
sealed class CodeOfCases(ModelDocument document, Func<ModelDocument, PartCatalog> catalog, CodeRequest request, CodeBench bench)
{
    /// <summary>Steps of one case at most.</summary>
    const int MostSteps = 200_000;

    readonly CaseRun runs = new(document, catalog, 0);

    public CodeCase Of(string id, CancellationToken wanted)
    {
        var name = document.Cases[id].Name;
        CodeCase? made = null;
        try
        {
            var result = runs.Of(id, wanted, null, (setup, session) => made = Compared(id, setup, session, wanted));
            return made ?? new CodeCase(id, name, CodeCaseOutcome.NotRun, result.Problem, 0, null, 0, 0);
        }
        catch (DeliveryException e)
        {
            return new CodeCase(id, name, CodeCaseOutcome.NotRun, e.Message, 0, null, 0, 0);
        }
    }

    CodeCase Compared(string id, CaseSetup setup, RunSession session, CancellationToken wanted)
    {
        var name = setup.Node.Name;
        CodeCase Not(string why) => new(id, name, CodeCaseOutcome.NotRun, why, 0, null, 0, 0);
        var whole = session.Prepared;
        if (!PartPath.TryParse(request.Part, out var path) || whole.Map.NameOf(path) is not { } owner)
            return Not("It runs another part of the model.");
        var unit = CodeUnit.Of(whole, setup.Document, catalog(setup.Document), request, setup.Set);
        if (!bench.Suits(unit))
            return Not("It sets what is a number in the code. Make that a parameter that can be changed, or deliver it apart.");
        var inputs = new List<double[]>();
        foreach (var input in unit.Inputs)
        {
            if (whole.Model.Find($"{owner}.{input.Name}") is not { } variable || !RecordedSignal.Has(whole, session.Trace, variable))
                return Not($"What goes in at '{input.Name}' is not recorded.");
            inputs.Add(RecordedSignal.Values(whole, session.Parameters.Values, session.Trace, variable));
        }

        var all = Math.Floor(session.Time / request.Step * (1 + 1e-12)) + 1;
        var steps = (int)Math.Min(MostSteps, all);
        var rows = Sampled([.. session.Trace.Times], inputs, [.. unit.Inputs.Select(i => i.Variable)], steps, wanted);
        var result = bench.Run(unit, rows, wanted);
        return new CodeCase(
            id,
            name,
            result.AreSame ? CodeCaseOutcome.Same : CodeCaseOutcome.Apart,
            result.First is { } first
                    ? FormattableString.Invariant($"{first.Output} parts at step {first.Step}, {first.Step * request.Step:G6} s.")
                : all > steps ? FormattableString.Invariant($"The first {steps} of {all} steps were compared.")
                : null,
            result.Steps,
            result.First,
            result.Unsolved,
            result.Unsettled
        );
    }

    /// <summary>Values at the steps, between two rows of a trace along a line; what is counted or chosen stays as it was.</summary>
    List<double[]> Sampled(double[] times, List<double[]> inputs, FlatVariable[] variables, int steps, CancellationToken wanted)
    {
        var rows = new List<double[]>(steps);
        var at = 0;
        for (var step = 0; step < steps; step++)
        {
            if (step % 1000 == 0)
                wanted.ThrowIfCancellationRequested();
            var time = step * request.Step;
            while (at + 1 < times.Length && times[at + 1] <= time)
                at++;
            var row = new double[inputs.Count];
            for (var i = 0; i < row.Length; i++)
            {
                row[i] = inputs[i][at];
                if (
                    at + 1 < times.Length
                    && time > times[at]
                    && variables[i] is { Type: Language.Binding.ScalarType.Real, Role: VariableRole.Continuous }
                )
                    row[i] += (inputs[i][at + 1] - inputs[i][at]) * (time - times[at]) / (times[at + 1] - times[at]);
            }

            rows.Add(row);
        }

        return rows;
    }
}
