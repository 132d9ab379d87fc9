using AnchorBend.Modeling.Documents;

namespace AnchorBend.Simulation;

/// <summary>What a stimulus does to a run: tracks of set values are no part of the model, as the hand that set them was none.</summary>
static class DocumentScript
{
    /// <summary>The script of the chosen stimulus; null where none sets anything.</summary>
    public static RunScript? Of(ModelDocument document)
    {
        if (document.Stimuli.GetValueOrDefault(document.Settings.Stimulus) is not { } stimulus)
            return null;
        var values = stimulus
            .Tracks.Values.Where(t => t.Shape == TrackShape.Set)
            .SelectMany((track, number) => ValuesOf(track).Select(v => (Number: number, Value: v)))
            .OrderBy(v => v.Value.Time ?? double.NegativeInfinity)
            .ThenBy(v => v.Number)
            .Select(v => v.Value)
            .ToList();
        return values.Count == 0 ? null : new RunScript([.. stimulus.Stops.Select(s => new StepStops(s.From, s.Every, s.Until))], values);
    }

    /// <summary>A first point at the start is what holds as the run begins.</summary>
    static IEnumerable<SetValue> ValuesOf(TrackNode track)
    {
        for (var i = 0; i < track.Times.Count; i++)
            yield return new SetValue(
                i == 0 && track.Times[i] <= 0 ? null : Math.Max(0, track.Times[i]),
                track.Target,
                track.Values[i],
                track.Unit
            );
    }
}
