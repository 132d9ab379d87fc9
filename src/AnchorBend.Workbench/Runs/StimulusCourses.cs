using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;

namespace AnchorBend.Workbench.Runs;

/// <summary>
/// Courses for stimuli from the catalog's sources: steps, ramps, chirps, multi-sines, noise, profiles of limited jerk. A source is run by
/// itself, so a course is what the part would give.
/// </summary>
public sealed class StimulusCourses(ComputeGate gate)
{
    static readonly TimeSpan MostRunning = TimeSpan.FromSeconds(10);

    const int MostPoints = 2000;

    /// <param name="part">Name of a source of the catalog.</param>
    /// <param name="parameters">Its parameters as typed; those that are left out keep their values.</param>
    /// <param name="end">Length of the course, s.</param>
    /// <exception cref="DocumentException">There is no such source, or it cannot run so.</exception>
    public Course Of(string part, IReadOnlyDictionary<string, string> parameters, double end, CancellationToken wanted)
    {
        if (!(end > 0) || end > 1e12)
            throw new DocumentException("A course needs a length: some seconds.");
        if (PartCatalog.Standard.Find(part) is null || PartCatalog.Standard.Describe(part) is not { Group: "Sources" } source)
            throw new DocumentException($"The catalog has no source '{DocumentLimits.Short(part)}'.");
        if (source.Ports is not [{ Domain: null, IsVector: false } port])
            throw new DocumentException($"'{source.Title}' gives more than one signal.");
        var document = new DiagramDefinition
        {
            Name = "Course",
            Parts = new()
            {
                ["s"] = new PartNode
                {
                    Type = part,
                    Name = "Source",
                    Parameters = new(parameters.Where(p => p.Value is not null)),
                },
            },
        }.AsModel();
        return gate.Run(MostRunning, wanted, token =>
        {
            var prepared = DocumentPreparation.Prepare(DocumentLimits.Checked(document), PartCatalog.Standard);
            if (!prepared.CanRun)
            {
                var first = prepared.Findings.FirstOrDefault(f => f.Severity == Severity.Error);
                throw new DocumentException(first is null ? "The source cannot run so." : first.Message + " " + first.Suggestion);
            }

            using var session = new RunSession(
                prepared,
                new ParameterSet(prepared.Model),
                new RunOptions
                {
                    End = end,
                    OutputInterval = end / (MostPoints / 2),
                    TimeBudget = MostRunning,
                }
            );
            session.Advance(new PauseAt(), token);
            if (session.Failure is { } failure)
                throw new DocumentException(failure.Message + " " + failure.Advice);
            using var trace = session.Trace;
            var place = prepared.Compiled!.Plan.RepresentativeOf($"Source.{port.Name}");
            var values = trace.Has(place)
                ? trace.Column(place)
                : [.. Enumerable.Repeat(session.Parameters.Values[prepared.Model.Find($"Source.{port.Name}")!.Index], trace.Rows)];
            return new Course([.. trace.Times], values).Straightened();
        });
    }
}
