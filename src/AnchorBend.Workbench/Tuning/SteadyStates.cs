using System.Globalization;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Language.Units;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Tuning;

/// <summary>Operating points of models, one or many over a quantity.</summary>
public sealed class SteadyStates(ComputeGate compute)
{
    static readonly TimeSpan Most = TimeSpan.FromSeconds(30);

    const int MostPoints = 60;

    /// <exception cref="DesignException">A name is unknown, a value cannot be read, or there is no rest.</exception>
    public SteadyAnswer Steady(ModelSession session, SteadyRequest request, CancellationToken wanted) =>
        compute.Run(Most, wanted, token => new PointSearch(session, request, token).Find(null).Answer);

    /// <exception cref="DesignException">The quantity is unknown, or its values do not rise.</exception>
    public SeriesAnswer Series(ModelSession session, SeriesRequest request, CancellationToken wanted) =>
        compute.Run(Most, wanted, token => SeriesOf(session, request, token));

    static SeriesAnswer SeriesOf(ModelSession session, SeriesRequest request, CancellationToken wanted)
    {
        if (request.Count is < 2 or > MostPoints)
            throw new DesignException("count", $"A series has 2 to {MostPoints} points.", "Take fewer or more.");
        var (prepared, _) = SavedPoints.Model(session, request.Each.Point, wanted);
        var over = request.Over is not { Length: > 0 } name ? null : prepared.Find(name) ?? throw Linearizer.Unknown(prepared.Model, name);
        var views = new VariableViews(prepared, new ParameterSet(prepared.Model).Values);
        var unit = over is null ? Unit.Parse("s") : views.CoherentUnit(over);
        var shown = over is null ? null : views.Signal(over, over.Name, null);
        double Read(string text) => PointSearch.Typed(text, unit, over?.Name ?? "time");
        var (from, to) = (Read(request.From), Read(request.To));
        if (!(double.IsFinite(from) && double.IsFinite(to)) || from == to)
            throw new DesignException("range", "The values of a series must differ.", "Give a first and a last one.");
        double Shown(double value) => shown is null ? value : shown.Scale * value + shown.Shift;
        var points = new List<SeriesPoint>();
        StartValues? before = null;
        for (var i = 0; i < request.Count; i++)
        {
            wanted.ThrowIfCancellationRequested();
            var value = from + (to - from) * i / (request.Count - 1);
            var text = value.ToString("R", CultureInfo.InvariantCulture);
            var each = over switch
            {
                null => request.Each with { At = value },
                { Role: Modeling.Flat.VariableRole.Parameter } => request.Each with
                {
                    Set = [.. request.Each.Set ?? [], new SetParameter(over.Name, text)],
                },
                _ => request.Each with { Fixed = [.. request.Each.Fixed ?? [], new FixedSignal(over.Name, text, null, null)] },
            };
            try
            {
                var search = new PointSearch(session, each, wanted);
                var (answer, states) = search.Find(over is null ? null : before);
                (points, before) = ([.. points, new SeriesPoint(Shown(value), answer, null)], states);
            }
            catch (Exception e) when (e is DesignException or SimulationException or Modeling.Documents.DocumentException)
            {
                points.Add(
                    new SeriesPoint(Shown(value), null, e is DesignException { Advice: var advice } ? $"{e.Message} {advice}" : e.Message)
                );
            }
        }

        return new SeriesAnswer(
            over?.Name ?? "time",
            shown is null ? "s"
                : shown.Unit == "1" ? ""
                : shown.Unit,
            points
        );
    }
}
