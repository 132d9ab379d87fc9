using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Runs;

/// <summary>A run that was played by hand as a stimulus, which gives the model the same courses again.</summary>
/// <param name="Left">Names of what was set by hand and no stimulus can drive.</param>
public sealed record PlayedStimulus(StimulusNode Stimulus, IReadOnlyList<string> Left);

/// <summary>Courses of signals as runs recorded them, for tracks of stimuli.</summary>
public sealed class RecordedCourses(RunPool runs, ComputeGate gate)
{
    static readonly TimeSpan MostComputing = TimeSpan.FromSeconds(20);

    /// <summary>A signal's course in the unit that it is read in.</summary>
    /// <exception cref="NotFoundException">The run is not kept any more, or does not have the signal.</exception>
    /// <exception cref="RefusedException">It has gaps.</exception>
    public Course Of(string run, string signal, CancellationToken wanted)
    {
        var job = Found(run, wanted);
        return gate.Run(MostComputing, wanted, _ => Of(job, signal))
            ?? throw new NotFoundException($"The run has no signal '{DocumentLimits.Short(signal)}'.");
    }

    /// <summary>The sources whose values were set by hand, as tracks.</summary>
    /// <exception cref="NotFoundException">The run is not kept any more.</exception>
    /// <exception cref="RefusedException">Nothing that a stimulus can drive was set.</exception>
    public PlayedStimulus Played(string run, CancellationToken wanted)
    {
        var job = Found(run, wanted);
        return gate.Run(MostComputing, wanted, _ => Played(job));
    }

    static PlayedStimulus Played(RunJob job)
    {
        var (tracks, left) = (new Dictionary<string, TrackNode>(), new List<string>());
        foreach (var part in (job.Result?.Events ?? []).Where(e => e.IsChange).Select(e => e.Part).Distinct())
            if (Target(job, part) is { } target && Of(job, target) is { } course)
                tracks[$"k{tracks.Count + 1}"] = new TrackNode
                {
                    Target = target,
                    Unit = course.Unit,
                    Times = course.Times,
                    Values = course.Values,
                };
            else
                left.Add(part.Length > 0 ? part : "the model");
        if (tracks.Count == 0)
            throw new RefusedException(
                left.Count == 0
                    ? "Nothing was set by hand in this run."
                    : $"What was set by hand is no source: {string.Join(", ", left)}. A stimulus drives sources and inputs.",
                "Play the run and set the value of a source, such as a constant or a step."
            );
        return new PlayedStimulus(new StimulusNode { Name = $"Played in run {job.Number}", Tracks = tracks }, left);
    }

    RunJob Found(string run, CancellationToken wanted) =>
        runs.Find(run, wanted) is { Trace: not null } job ? job : throw NotFoundException.Run(run);

    /// <summary>The output of a source by its path of names; null for other parts.</summary>
    static string? Target(RunJob job, string name)
    {
        if (job.Prepared.Map.Find(name) is not { } place || PartCatalog.Of(job.Document, PartCatalog.Standard) is not { } catalog)
            return null;
        return catalog.Find(place.Node.Type) is not null && DrivenParts.SourceOf(catalog.Describe(place.Node.Type)) is { } port
            ? new SignalReference(place.Path, port.Name).ToString()
            : null;
    }

    static Course? Of(RunJob job, string signal)
    {
        if (new RunResults(job).Curve(signal) is not { } curve || job.Prepared.Find(signal) is not { } variable)
            return null;
        if (!Array.TrueForAll(curve.Values, double.IsFinite))
            throw new RefusedException("Values of this signal are missing in the run.", "Take another run, or type the points.");
        var view = new VariableViews(job.Prepared, job.Parameters.Values).Signal(variable, signal, null);
        var values = Array.ConvertAll(curve.Values, v => v * view.Scale + view.Shift);
        var course = new Course([.. curve.Times], values, view.Unit.Length > 0 ? view.Unit : null).Straightened();
        return course.Times.Length <= StimulusNode.MostPoints
            ? course
            : throw new RefusedException(
                $"The course of {view.Label} bends at {course.Times.Length} points; a track takes at most {StimulusNode.MostPoints}.",
                "Take a shorter run, or record at fewer points."
            );
    }
}
