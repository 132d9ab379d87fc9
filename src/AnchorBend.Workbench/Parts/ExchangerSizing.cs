using System.Globalization;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Parts;

/// <summary>Which size a heat exchanger should have for a duty, with what comes in at an instant of a run.</summary>
/// <param name="Part">Its identity: ids from the root down.</param>
/// <param name="Parameter">The one that is varied, among those that the part declares.</param>
/// <param name="Duty">As it is typed, a bare number in watts; null for the curve alone.</param>
public sealed record SizingRequest(string Run, double Time, string Part, string Parameter, string? Duty);

/// <param name="Value">Of the varied parameter, in its own unit.</param>
/// <param name="Duty">Its size, W, whichever fluid gives it.</param>
/// <param name="FirstLoss">Pressure loss of the first fluid, Pa.</param>
public sealed record SizingPoint(double Value, double Duty, double Effectiveness, double FirstLoss, double SecondLoss);

/// <summary>What an exchanger would come to over one of its sizes.</summary>
/// <param name="Points">By rising values; sizes that cannot be built or solved are left out.</param>
/// <param name="Found">The least size with the wanted duty; null where nothing was wanted.</param>
/// <param name="Text">What to type for it.</param>
public sealed record SizingAnswer(
    string Parameter,
    string Unit,
    double Scale,
    double Shift,
    IReadOnlyList<SizingPoint> Points,
    SizingPoint? Found,
    string? Text
);

/// <summary>Sizes heat exchangers: the part alone, between boundaries that give what came in, over one of its parameters.</summary>
public sealed class ExchangerSizing(RunPool runs, ModelWork models, ComputeGate compute)
{
    /// <summary>How far up and down from its present value a size is looked at.</summary>
    const double Span = 8;

    const int Points = 17;

    static readonly TimeSpan MostSizing = TimeSpan.FromSeconds(30);

    /// <exception cref="NotFoundException">The run is not kept any more.</exception>
    /// <exception cref="DesignException">What is asked for cannot be found; says why.</exception>
    public SizingAnswer Of(string model, SizingRequest request, CancellationToken wanted)
    {
        var job = runs.Find(request.Run, wanted) ?? throw NotFoundException.Run(request.Run);
        if (job.Trace is not { Rows: > 0 } trace)
            throw new DesignException("sizing", "The run has not begun yet.", "Wait until it has, or run the model.");
        if (!PartPath.TryParse(request.Part, out var path) || path.IsRoot)
            throw NoPart();
        if (!double.IsFinite(request.Time))
            throw new DesignException("sizing", "The instant is no number.", "Give a time of the run in seconds.");
        var values = new RunValues(job, trace);
        var session = models.Session(model);
        return compute.Run(MostSizing, wanted, w =>
        {
            var prepared = session.Prepare(w).Prepared;
            var bench = new Bench(prepared, session.Catalog(), path, request.Parameter, n => Known(job, values, path, n, request.Time), w);
            return bench.Answer(request.Duty);
        });
    }

    static DesignException NoPart() =>
        new("sizing", "There is no such heat exchanger in the model as it was run.", "Choose one, and run the model.");

    static double Known(RunJob job, RunValues values, PartPath path, string name, double time) =>
        job.Prepared.Map.NameOf(path) is { } part && job.Prepared.Model.Find($"{part}.{name}") is { } variable
            ? values.At(variable.Index, Math.Clamp(time, job.Options.Start, job.Options.End))
            : throw NoPart();

    /// <summary>An exchanger alone, between what gives and what takes its fluids.</summary>
    sealed class Bench
    {
        readonly ModelDocument document;
        readonly PartCatalog catalog;
        readonly ParameterDescription size;
        readonly FlatVariable variable;
        readonly double present;
        readonly VariableViews views;
        readonly CancellationToken wanted;
        PreparedModel? before;

        public Bench(
            PreparedModel whole,
            PartCatalog catalog,
            PartPath path,
            string parameter,
            Func<string, double> known,
            CancellationToken wanted
        )
        {
            (this.catalog, this.wanted) = (catalog, wanted);
            if (whole.Map.Parts.FirstOrDefault(p => p.Path == path) is not { } place || whole.Map.NameOf(path) is not { } name)
                throw NoPart();
            var description = catalog.Describe(place.Node.Type);
            size = description.Parameters.FirstOrDefault(p => p.Name == parameter && description.Traits.Sizes.Contains(parameter))
                ?? throw new DesignException(
                    "sizing",
                    $"'{parameter}' is no size of this part that can be found.",
                    $"Choose one of {string.Join(", ", description.Traits.Sizes)}."
                );
            var numbers = whole.Model.ParameterValues();
            views = new VariableViews(whole, numbers);
            variable = whole.Model.Find($"{name}.{parameter}") ?? throw NoPart();
            present = numbers[variable.Index];
            // Names of other levels mean nothing here: what is typed stands as numbers.
            var typed = place.Node.Parameters.ToDictionary(
                p => p.Key,
                p =>
                    whole.Model.Find($"{name}.{p.Key}") is { Type: ScalarType.Real or ScalarType.Integer } own
                        ? Number(numbers[own.Index])
                        : p.Value
            );
            typed["holds"] = "false";
            var diagram = new DiagramDefinition
            {
                Name = "Sizing",
                Parts =
                {
                    ["x"] = new PartNode
                    {
                        Type = place.Node.Type,
                        Name = "x",
                        Parameters = typed,
                    },
                },
            };
            for (var side = 1; side <= 2; side++)
                AddSide(diagram, side, known);
            document = diagram.AsModel();
        }

        static string Number(double value) => value.ToString("R", CultureInfo.InvariantCulture);

        /// <summary>The fluid of a side, what gives it and what takes it, in the direction in which it flows.</summary>
        void AddSide(DiagramDefinition diagram, int side, Func<string, double> known)
        {
            var (m, T, p) = (known($"m[{side}]"), known($"TIn[{side}]"), known($"p[{side}]"));
            var (medium, share) = (known($"a{side}.medium"), known($"a{side}.share"));
            if (!double.IsFinite(m + T + p) || Math.Abs(m) < 1e-9)
                throw new DesignException(
                    "sizing",
                    $"The {(side == 1 ? "first" : "second")} fluid does not flow at this instant.",
                    "Move the time bar to where both fluids flow."
                );
            var kinds = catalog.Describe("LoopFluid").Parameters.Single(q => q.Name == "kind").Choices!;
            var fluid = new Dictionary<string, string> { ["kind"] = kinds[(int)Math.Clamp(medium, 1, kinds.Count) - 1].Value };
            foreach (var holding in (string[])["salinity", "humidity", "fuel", "glycol"])
                fluid[holding] = Number(share);
            void Add(string id, string type, Dictionary<string, string> parameters) =>
                diagram.Parts[$"{id}{side}"] = new PartNode
                {
                    Type = type,
                    Name = $"{id}{side}",
                    Parameters = parameters,
                };
            Add("fluid", "LoopFluid", fluid);
            Add("give", "FlowBoundary", new() { ["m"] = Number(Math.Abs(m)), ["T"] = Number(T) });
            Add("take", "PressureBoundary", new() { ["p"] = Number(p), ["T"] = Number(T) });
            var (near, far) = m > 0 ? ("give", "take") : ("take", "give");
            void Join(string one, string other, string port) =>
                diagram.Wires[$"w{diagram.Wires.Count + 1}"] = new WireNode
                {
                    From = new PortReference($"{one}{side}", "a"),
                    To = new PortReference(other, port),
                };
            Join("fluid", $"give{side}", "a");
            Join(near, "x", $"a{side}");
            Join(far, "x", $"b{side}");
        }

        public SizingAnswer Answer(string? duty)
        {
            var whole = size.Type == "Integer";
            double Read(string? text, double otherwise) =>
                text is not null && double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var x) ? x : otherwise;
            var low = Math.Max(Read(size.Minimum, 0), present / Span);
            var high = Math.Min(Read(size.Maximum, double.MaxValue), present * Span);
            var tried = Enumerable
                .Range(0, Points)
                .Select(i => low * Math.Pow(high / low, i / (Points - 1.0)))
                .Append(present)
                .Select(v => whole ? Math.Round(v) : v)
                .Distinct()
                .Order()
                .ToList();
            var points = tried.Select(At).OfType<SizingPoint>().ToList();
            if (points.Count == 0)
                throw new DesignException(
                    "sizing",
                    "None of the sizes can be solved with these flows.",
                    "Check its geometry and what flows in."
                );
            var shown = views.Signal(variable, variable.Name, null);
            SizingAnswer Told(SizingPoint? found) =>
                new(
                    size.Name,
                    shown.Unit == "1" ? "" : shown.Unit,
                    shown.Scale,
                    shown.Shift,
                    points,
                    found,
                    found is null ? null
                        : whole ? Number(found.Value)
                        : Typed(found.Value)
                );
            string Shown(SizingPoint p) => FormattableString.Invariant($"{p.Value * shown.Scale + shown.Shift:G4}");
            if (string.IsNullOrWhiteSpace(duty))
                return Told(null);
            var goal =
                TypedValue.Number(duty, Unit.Parse("W")) is { } watts && double.IsFinite(watts)
                    ? watts
                    : throw new DesignException("sizing", $"'{duty}' is no heat flow.", "Type it as 5 kW, for example.");
            goal = Math.Abs(goal);
            var above = points.FindIndex(p => p.Duty >= goal);
            if (above < 0)
                throw new DesignException(
                    "sizing",
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"No size from {Shown(points[0])} to {Shown(points[^1])} {shown.Unit} gives {goal:G4} W; "
                            + $"the most is {points.Max(p => p.Duty):G4} W."
                    ),
                    "Change another size first, or let more of the fluids flow."
                );
            var found = above == 0 ? points[0] : Between(points[above - 1], points[above], goal, whole);
            return Told(found);
        }

        /// <summary>A size as it is typed, in the unit that the parameter is shown in; a length is rounded up to five digits.</summary>
        string Typed(double value)
        {
            var (scale, shift, unit) = views.Signal(variable, variable.Name, null) is var v ? (v.Scale, v.Shift, v.Unit) : default;
            var read = value * scale + shift;
            var digit = Math.Pow(10, Math.Floor(Math.Log10(Math.Abs(read))) - 4);
            return FormattableString.Invariant($"{Math.Ceiling(read / digit - 1e-6) * digit:G6} {unit}").Trim();
        }

        SizingPoint Between(SizingPoint low, SizingPoint high, double goal, bool whole)
        {
            for (var i = 0; i < 40 && (whole ? high.Value - low.Value > 1 : high.Value - low.Value > 1e-6 * high.Value); i++)
            {
                WorkBudget.Current.Check();
                var middle = whole ? Math.Floor((low.Value + high.Value) / 2) : Math.Sqrt(low.Value * high.Value);
                if (At(middle) is not { } point)
                    break;
                (low, high) = point.Duty >= goal ? (low, point) : (point, high);
            }

            return high;
        }

        /// <summary>What the part comes to with one value of its size; null where it cannot be built or solved.</summary>
        SizingPoint? At(double value)
        {
            WorkBudget.Current.Check();
            var prepared = DocumentPreparation.Prepare(
                document,
                catalog,
                before,
                new Dictionary<string, string> { [$"x.{size.Name}"] = Number(value) }
            );
            if (!prepared.CanRun)
                return null;
            before = prepared;
            var options = new RunOptions { End = 1, SteadyStart = true };
            try
            {
                using var session = new RunSession(prepared, new ParameterSet(prepared.Model), options);
                session.Advance(new PauseAt(), wanted);
                wanted.ThrowIfCancellationRequested();
                using var trace = session.Trace;
                if (session.Failure is not null || trace.Rows == 0)
                    return null;
                double Rest(string name)
                {
                    var place = prepared.Compiled!.Plan.Representative[prepared.Model.Find($"x.{name}")!.Index];
                    return trace.Has(place) ? trace[0, place] : double.NaN;
                }

                var point = new SizingPoint(
                    value,
                    Math.Abs(Rest("duty")),
                    Rest("effectiveness"),
                    Math.Abs(Rest("dp[1]")),
                    Math.Abs(Rest("dp[2]"))
                );
                return double.IsFinite(point.Duty + point.Effectiveness + point.FirstLoss + point.SecondLoss) ? point : null;
            }
            catch (SimulationException)
            {
                return null;
            }
        }
    }
}
