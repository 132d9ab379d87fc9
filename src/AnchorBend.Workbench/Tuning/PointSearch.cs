using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Tuning;

/// <summary>The search for one operating point of a model.</summary>
sealed class PointSearch
{
    readonly SteadyRequest request;
    readonly CancellationToken wanted;
    readonly PreparedModel prepared;
    readonly ModelDocument document;
    readonly VariableViews views;

    /// <exception cref="DesignException">A parameter is unknown.</exception>
    /// <exception cref="DocumentException">With the values that are set the model has errors.</exception>
    public PointSearch(ModelSession session, SteadyRequest request, CancellationToken wanted)
    {
        (this.request, this.wanted) = (request, wanted);
        (prepared, document) = SavedPoints.Model(session, request.Point, wanted);
        if (request.Set is { Count: > 0 } set)
        {
            var texts = new Dictionary<string, string>();
            foreach (var (parameter, text) in set)
                texts[Found(parameter) is { Role: VariableRole.Parameter } p ? p.Name : throw NoParameter(parameter)] = text;
            prepared = DocumentPreparation.Prepare(document, session.CatalogOf(document), prepared, texts);
            if (!prepared.CanRun)
                throw new DocumentException(
                    $"With these values the model has errors: {prepared.Findings.First(f => f.Severity == Modeling.Severity.Error).Message}"
                );
        }

        views = new VariableViews(prepared, new ParameterSet(prepared.Model).Values);
    }

    static DesignException NoParameter(string name) =>
        new("set", $"'{name}' is no parameter, so it cannot be given a value.", "Fix it instead, and free a parameter for it.");

    FlatVariable Found(string name) => prepared.Find(name) ?? throw Linearizer.Unknown(prepared.Model, name);

    /// <summary>Values as people read them: a factor, a shift behind it, and the unit.</summary>
    (double Scale, double Shift, string Unit) Read(FlatVariable v) =>
        views.Signal(v, v.Name, null) is var shown ? (shown.Scale, shown.Shift, shown.Unit == "1" ? "" : shown.Unit) : default;

    /// <param name="before">Where to begin; null for the start of runs, or the instant asked for.</param>
    /// <exception cref="DesignException">A name is unknown, a value cannot be read, or there is no rest.</exception>
    public (SteadyAnswer Answer, StartValues States) Find(StartValues? before)
    {
        var run = DocumentRun.OptionsOf(document);
        var instant =
            request.At is null && !request.IsInstant
                ? null
                : LoopProposal.PointAt(prepared, new ParameterSet(prepared.Model), request.At ?? run.Start, run, wanted);
        var moving = (request.Moving ?? []).Select(m => Found(m).Name).ToList();
        if (request.IsInstant)
            return Answer(new SteadySearch(prepared, instant!, [], [], [], true), [], [], moving);
        var begin = before ?? (instant is null ? run.From : new StartValues("", Kept(instant).ToDictionary(s => s.Name, s => s.Value)));
        var fixedOnes = (request.Fixed ?? []).Select(Wanted).ToList();
        var free = (request.Free ?? []).Select(Free).ToList();
        var search = new RestSearch(begin, request.At ?? run.Start, moving);
        return Answer(SteadySearch.Of(prepared, fixedOnes, free, search, wanted), fixedOnes, free, moving);
    }

    WantedValue Wanted(FixedSignal f)
    {
        var variable = Found(f.Signal);
        double? Bound(string? text) => text is { Length: > 0 } ? Typed(text, views.CoherentUnit(variable), variable.Name) : null;
        return Bound(f.Value) is { } value ? new WantedValue(variable.Name, value)
            : Bound(f.Low) is var low && Bound(f.High) is var high && (low ?? high) is not null
                ? new WantedValue(variable.Name, low ?? double.NegativeInfinity, high ?? double.PositiveInfinity)
            : throw new DesignException("value", $"What {variable.Name} is to be is missing.", "Give a value, or a bound.");
    }

    FreeParameter Free(FreedParameter f)
    {
        var variable = Found(f.Parameter);
        double Bound(string? text, double none) =>
            text is { Length: > 0 } ? Typed(text, views.CoherentUnit(variable), variable.Name) : none;
        return new FreeParameter(variable.Name, null, Bound(f.Low, double.NegativeInfinity), Bound(f.High, double.PositiveInfinity));
    }

    /// <summary>A typed number in the unit that the model computes in.</summary>
    /// <exception cref="DesignException">It is none.</exception>
    public static double Typed(string text, Unit? own, string name) =>
        TypedValue.Number(text, own)
        ?? throw new DesignException(
            "value",
            $"'{text}' is no value for {name}.",
            own is null ? "Type a number." : $"Type a number, with a unit such as {Unit.Pretty(own.Symbol)} if wanted."
        );

    (SteadyAnswer, StartValues) Answer(SteadySearch result, List<WantedValue> fixedOnes, List<FreeParameter> free, List<string> moving)
    {
        FoundParameterView Parameter(FreeParameter f, double value)
        {
            var variable = Found(f.Parameter);
            var place = prepared.Map.Find(variable.Owner);
            var name = place is null ? null : variable.Name[(variable.Owner.Length + 1)..];
            var (scale, shift, unit) = Read(variable);
            return new FoundParameterView(
                f.Parameter,
                scale * value + shift,
                unit,
                result.AtBounds.Contains(f.Parameter),
                name is null ? null : TypedValue.InUnitOf(place!.Node.Parameters.GetValueOrDefault(name), value, variable.Unit),
                name is null ? null : DocumentPath.Of("definitions", place!.Definition, "parts", place.Path.Id, "parameters", name)
            );
        }

        static double? Known(double v) => double.IsFinite(v) ? v : null;
        var found = free.Select((f, i) => Parameter(f, result.Found[i])).ToList();
        var rates = result.Point.Rates.ToDictionary(r => r.State, r => r.Rate);
        var states = prepared.Compiled!.Plan.States.ToHashSet();
        ReachedView Reached(WantedValue w, double reached)
        {
            var (scale, shift, unit) = Read(Found(w.Signal));
            return new ReachedView(
                w.Signal,
                Known(scale * w.Low + shift),
                Known(scale * w.High + shift),
                scale * reached + shift,
                unit,
                result.AtBounds.Contains(w.Signal)
            );
        }

        RestView Rest(SignalEntry signal)
        {
            var variable = prepared.Model.Variables[signal.Variable];
            var (scale, shift, unit) = Read(variable);
            return new RestView(
                signal.Path,
                scale * result.Point.Values[signal.Variable] + shift,
                unit,
                states.Contains(signal.Variable) ? scale * rates.GetValueOrDefault(variable.Name) : null
            );
        }

        var answer = new SteadyAnswer(
            result.IsMet,
            [.. fixedOnes.Select((w, i) => Reached(w, result.Reached[i]))],
            found,
            [
                .. SignalCatalog
                    .Of(prepared, document)
                    .All.Where(s => s.Kind != "rate" && double.IsFinite(result.Point.Values[s.Variable]))
                    .Select(Rest),
            ],
            Node(result, found, moving)
        );
        return (answer, new StartValues("", Kept(result.Point).ToDictionary(s => s.Name, s => s.Value)));
    }

    OperatingPointNode Node(SteadySearch result, List<FoundParameterView> found, List<string> moving)
    {
        var before = document.OperatingPoints.GetValueOrDefault(document.Settings.Point);
        var parameters = new Dictionary<string, string>();
        foreach (var value in before?.Parameters ?? [])
            parameters[value.Target] = value.Value;
        foreach (var (parameter, text) in request.Set ?? [])
            parameters[Identity(Found(parameter).Name)] = text;
        foreach (var f in found)
            parameters[Identity(f.Parameter)] = f.Text
                ?? TypedValue.InUnitOf(null, result.Found[found.IndexOf(f)], Found(f.Parameter).Unit);
        return new OperatingPointNode
        {
            Name = "",
            At = result.Point.IsSteady ? result.Point.Time : request.At ?? result.Point.Time,
            Rests = result.Point.IsSteady,
            Moving = [.. moving.Concat(result.Point.Moving).Distinct().Select(Identity)],
            Parameters = [.. parameters.Select(p => new PointValueNode(p.Key, p.Value))],
            Fixed = [.. (request.Fixed ?? []).Select(f => new PointWantedNode(Identity(Found(f.Signal).Name), f.Value, f.Low, f.High))],
            Free = [.. (request.Free ?? []).Select(f => new PointFreeNode(Identity(Found(f.Parameter).Name), f.Low, f.High))],
            States = [.. Kept(result.Point).Select(s => new PointStateNode(Identity(s.Name), s.Value))],
        };
    }

    /// <summary>What a run from a point begins with: states and remembered values, and where index reduction chose the states, all that
    /// it could have chosen.</summary>
    IEnumerable<(string Name, double Value)> Kept(OperatingPoint point)
    {
        var plan = prepared.Compiled!.Plan;
        var isReduced = plan.Reduced is not null;
        var states = plan.States.ToHashSet();
        return prepared
            .Model.Variables.Where(v =>
                v.Role == VariableRole.Discrete
                || v.Role == VariableRole.Continuous && (states.Contains(v.Index) || isReduced && v.Start is not null)
            )
            .Where(v => double.IsFinite(point.Values[v.Index]))
            .Select(v => (v.Name, point.Values[v.Index]));
    }

    /// <summary>What a name means whatever its part is called.</summary>
    string Identity(string name) =>
        prepared.Map.Around(name) is { } place && prepared.Map.NameOf(place.Path) is { } part && name.Length > part.Length
            ? new SignalReference(place.Path, name[(part.Length + 1)..]).ToString()
            : name;
}
