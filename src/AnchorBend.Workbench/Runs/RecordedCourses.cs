using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Runs;

/// <summary>A run that was played by hand as a stimulus, which gives the model the same courses again.</summary>
/// <param name="Left">Names of what was set by hand and belongs to no part.</param>
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

    /// <summary>The values that were set by hand, as tracks.</summary>
    /// <exception cref="NotFoundException">The run is not kept any more.</exception>
    /// <exception cref="RefusedException">Nothing that a stimulus can set was set.</exception>
    public PlayedStimulus Played(string run, CancellationToken wanted)
    {
        var job = Found(run, wanted);
        return gate.Run(MostComputing, wanted, _ => Played(job));
    }

    static PlayedStimulus Played(RunJob job)
    {
        var script = job.Result?.Script ?? new RunScript([], []);
        var (tracks, left) = (new Dictionary<string, TrackNode>(), new List<string>());
        foreach (var values in script.Values.GroupBy(v => v.Parameter))
            if (job.Prepared.Find(values.Key) is { } parameter && TargetOf(job, parameter) is { } target)
                tracks[$"k{tracks.Count + 1}"] = Track(job, parameter, target, [.. values]);
            else
                left.Add(values.Key);
        if (tracks.Count == 0)
            throw new RefusedException(
                left.Count == 0
                    ? "Nothing was set by hand in this run."
                    : $"What was set by hand belongs to no part of the diagram: {string.Join(", ", left)}.",
                "Play the run and set the value of a part, such as a constant."
            );
        var stops = script.Stops.Select(s => new StopsNode(s.From, s.Every, s.Until));
        return new PlayedStimulus(
            new StimulusNode
            {
                Name = $"Played in run {job.Number}",
                Tracks = tracks,
                Stops = [.. stops],
            },
            left
        );
    }

    /// <summary>A parameter of a drawn part by identity; null for others.</summary>
    static string? TargetOf(RunJob job, FlatVariable parameter) =>
        job.Prepared.Map.Find(parameter.Owner) is { } place
            ? new SignalReference(place.Path, parameter.Name[(parameter.Owner.Length + 1)..]).ToString()
            : null;

    static TrackNode Track(RunJob job, FlatVariable parameter, string target, List<SetValue> values)
    {
        // What it was as the run began comes first.
        if (values[0].Time is not null)
            values.Insert(0, new SetValue(null, parameter.Name, job.ParametersAt(double.NegativeInfinity)[parameter.Index]));
        // In the unit that people read it in, unless that would change a bit.
        var unit = parameter.DisplayUnit ?? parameter.Unit?.Symbol;
        var shown = values.ConvertAll(v => Shown(v, parameter, unit));
        if (!shown.Zip(values).All(v => v.First.In(parameter.Unit) == v.Second.Value))
            (unit, shown) = (null, values);
        return new TrackNode
        {
            Target = target,
            Shape = TrackShape.Set,
            Unit = unit,
            Times = [.. values.Select(v => v.Time ?? job.Options.Start)],
            Values = [.. shown.Select(v => v.Value)],
        };
    }

    static SetValue Shown(SetValue value, FlatVariable parameter, string? unit) =>
        unit is not null && parameter.Unit is { } own && Unit.TryParse(unit, out var wanted, out _) && wanted.Fits(own)
            ? value with
            {
                Value = own.ConvertTo(wanted, value.Value),
                Unit = unit,
            }
            : value;

    RunJob Found(string run, CancellationToken wanted) =>
        runs.Find(run, wanted) is { Trace: not null } job ? job : throw NotFoundException.Run(run);

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
