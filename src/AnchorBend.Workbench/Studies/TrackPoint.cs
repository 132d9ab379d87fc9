using System.Globalization;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Studies;

/// <summary>A point of a stimulus that rows set: its value or its instant. Written <c>#track:STIMULUS:TRACK:value:N</c> with ids and the
/// point's place from 0.</summary>
public sealed record TrackPoint(string Stimulus, string Track, bool IsTime, int Point)
{
    public const string Prefix = "#track:";

    /// <summary>Points of one track that are offered to be varied.</summary>
    const int MostOffered = 16;

    public string Target => $"{Prefix}{Stimulus}:{Track}:{(IsTime ? "time" : "value")}:{Point}";

    public static TrackPoint? Parse(string target) =>
        target.StartsWith(Prefix, StringComparison.Ordinal)
        && target[Prefix.Length..].Split(':') is [var stimulus, var track, "time" or "value", var point]
        && int.TryParse(point, NumberStyles.None, CultureInfo.InvariantCulture, out var place)
            ? new TrackPoint(stimulus, track, target.Contains(":time:", StringComparison.Ordinal), place)
            : null;

    /// <summary>The track that it is a point of; null where there is none.</summary>
    TrackNode? In(ModelDocument document) =>
        document.Stimuli.GetValueOrDefault(Stimulus)?.Tracks.GetValueOrDefault(Track) is { } track && Point < track.Values.Count
            ? track
            : null;

    string UnitIn(TrackNode track) => IsTime ? "s" : track.Unit ?? "";

    public string? Present(ModelDocument document) =>
        In(document) is { } track ? Text((IsTime ? track.Times : track.Values)[Point], UnitIn(track)) : null;

    static string Text(double value, string unit) => $"{value.ToString("G12", CultureInfo.InvariantCulture)} {unit}".Trim();

    public string? Label(ModelDocument document)
    {
        if (In(document) is not { } track)
            return null;
        var stimulus = document.Stimuli[Stimulus];
        var of = stimulus.Tracks.Count > 1 ? $" of {document.NameOf(track.Target) ?? track.Target}" : "";
        return $"{stimulus.Name}, {(IsTime ? "instant" : "value")} {Point + 1}{of}";
    }

    /// <summary>The document with the point elsewhere.</summary>
    /// <exception cref="DocumentException">It is not there, or its instant does not lie between its neighbours.</exception>
    public ModelDocument Set(ModelDocument document, string text)
    {
        var track = In(document) ?? throw new DocumentException("A point of a stimulus that varies is not in the model any more.");
        var value = Number(text, UnitIn(track));
        double[] changed = [.. IsTime ? track.Times : track.Values];
        changed[Point] = value;
        if (IsTime && changed.Zip(changed.Skip(1)).Any(p => p.Second < p.First))
            throw new DocumentException($"{Label(document)}: the instants of the stimulus do not rise any more.");
        track = IsTime ? track with { Times = changed } : track with { Values = changed };
        var stimulus = document.Stimuli[Stimulus];
        stimulus = stimulus with { Tracks = new Dictionary<string, TrackNode>(stimulus.Tracks) { [Track] = track } };
        return document with { Stimuli = new Dictionary<string, StimulusNode>(document.Stimuli) { [Stimulus] = stimulus } };
    }

    static double Number(string text, string unit)
    {
        try
        {
            var expression = Parser.ParseField(text);
            var (factor, sign) = (1.0, 1.0);
            if (expression is Quantity { Value: var inner, Unit: var given })
            {
                var wanted = unit.Length > 0 ? Unit.Parse(unit) : Unit.One;
                (expression, factor) = (inner, given.Fits(wanted) ? given.Factor / wanted.Factor : double.NaN);
            }

            if (expression is Unary { Kind: UnaryKind.Minus, Operand: var operand })
                (expression, sign) = (operand, -1);
            if (expression is NumberLiteral { Value: var number } && double.IsFinite(factor))
                return sign * number * factor;
        }
        catch (LanguageException)
        {
            // Told below.
        }

        throw new DocumentException(
            $"A point of a stimulus is a number{(unit.Length > 0 ? $" in {unit}" : "")}, not '{DocumentLimits.Short(text)}'."
        );
    }

    /// <summary>Points that can be varied, with bounds: values between the least and the largest of their track, instants up to half way to
    /// their neighbours.</summary>
    public static IEnumerable<FactorCandidate> Candidates(ModelDocument document)
    {
        foreach (var (stimulus, node) in document.Stimuli)
        foreach (var (id, track) in node.Tracks)
        foreach (var isTime in (bool[])[false, true])
            for (var i = 0; i < Math.Min(track.Values.Count, MostOffered); i++)
            {
                var point = new TrackPoint(stimulus, id, isTime, i);
                var (low, high) = (track.Values.Min(), track.Values.Max());
                if (isTime)
                {
                    if (i == 0 || i == track.Times.Count - 1)
                        continue;
                    (low, high) = ((track.Times[i - 1] + track.Times[i]) / 2, (track.Times[i] + track.Times[i + 1]) / 2);
                }

                if (high > low)
                    yield return new FactorCandidate(
                        point.Target,
                        point.Label(document)!,
                        "stimulus",
                        point.Present(document),
                        $"{Text(low, "")}:{Text(high, point.UnitIn(track))}"
                    );
            }
    }
}
