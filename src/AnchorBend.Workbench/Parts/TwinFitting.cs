using System.Globalization;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Units;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Valves;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Parts;

/// <summary>For which valve a crude one is wanted.</summary>
/// <param name="Part">Its identity: ids from the root down.</param>
/// <param name="Drop">At which its flows are looked at, as typed, a bare number in pascals.</param>
public sealed record TwinRequest(string Part, string Drop);

/// <param name="Valve">What it comes to, to be added to the model.</param>
/// <param name="Words">How well it was met, in a sentence.</param>
public sealed record TwinAnswer(Definition Valve, string Words);

/// <summary>
/// Fits a crude twin to a valve: the part alone, with each of its ports in turn under pressure, while its command goes slowly from end to
/// end; then a step of the command for its lag.
/// </summary>
public sealed class TwinFitting(ModelWork models, ComputeGate compute)
{
    static readonly TimeSpan Most = TimeSpan.FromSeconds(60);

    /// <summary>Strokes looked at on each side of the middle.</summary>
    const int Strokes = 40;

    /// <summary>From one stroke to the next, s: a spool follows without a lag that matters.</summary>
    const double Apart = 2;

    /// <summary>When the command begins to move, s: what is not at rest at the start has come to rest.</summary>
    const double Begin = 5;

    /// <summary>Of the ports without pressure, Pa.</summary>
    const double Low = 5e5;

    /// <exception cref="DesignException">What is asked for cannot be found; says why.</exception>
    public TwinAnswer Of(string model, TwinRequest request, CancellationToken wanted)
    {
        if (!PartPath.TryParse(request.Part, out var path) || path.IsRoot)
            throw NoPart();
        if (TypedValue.Number(request.Drop, Unit.Parse("Pa")) is not { } drop || !(drop is > 1e3 and < 1e8))
            throw new DesignException("twin", $"'{request.Drop}' is no drop of pressure.", "Type it as 35 bar, for example.");
        var session = models.Session(model);
        return compute.Run(Most, wanted, w =>
        {
            var (whole, document, _) = session.Prepare(w);
            var view = session.Views.Now(path.Above, w);
            if (view.Parts.GetValueOrDefault(path.Id) is not { } part)
                throw NoPart();
            return new Rig(whole, document, session.Catalog(), path, part, drop, w).Answer();
        });
    }

    static DesignException NoPart() =>
        new("twin", "There is no such valve in the model.", "Choose one, and mend the model's errors first.");

    sealed class Rig
    {
        readonly PartNode node;
        readonly PartView part;
        readonly List<PortView> ports;
        readonly PreparedModel prepared;
        readonly double drop;
        readonly CancellationToken wanted;

        public Rig(
            PreparedModel whole,
            ModelDocument document,
            PartCatalog catalog,
            PartPath path,
            PartView part,
            double drop,
            CancellationToken wanted
        )
        {
            (this.part, this.drop, this.wanted) = (part, drop, wanted);
            if (whole.Map.Parts.FirstOrDefault(p => p.Path == path) is not { } place || whole.Map.NameOf(path) is not { } name)
                throw NoPart();
            node = place.Node;
            if (!part.IsValve)
                throw new DesignException(
                    "twin",
                    $"'{node.Name}' is no valve that a twin can be fitted to.",
                    "It needs two to six hydraulic ports and one command from −1 to 1; besides, it may only tell signals."
                );
            ports = [.. part.Ports.Where(p => p.Domain == PartView.Hydraulic).OrderBy(p => Rank(p.Name))];
            var numbers = whole.Model.ParameterValues();
            double? Known(string parameter) => whole.Model.Find($"{name}.{parameter}") is { } found ? numbers[found.Index] : null;
            var diagram = new DiagramDefinition { Name = "Twin" };
            diagram.Parts["u"] = Part("Ramp", Command, new() { ["startTime"] = Number(Begin) });
            Join(diagram, "u", "y", part.Ports.Single(p => p is { Domain: null, IsInput: true }).Name);
            var fluid = new Dictionary<string, string> { ["kind"] = "Fluid.Kind.own" };
            foreach (var property in (string[])["rho", "K", "nu"])
                if (Known($"{ports[0].Name}.{property}") is { } value)
                    fluid[property] = Number(value);
            diagram.Parts["f"] = Part("Fluid", "the fluid", fluid);
            Join(diagram, "f", "a", ports[0].Name);
            for (var i = 0; i < ports.Count; i++)
            {
                diagram.Parts[$"r{i}"] = Part("Reservoir", End(i), new() { ["p"] = Number(Low) });
                Join(diagram, $"r{i}", "a", ports[i].Name);
            }

            var alone = PartAlone.Of(whole, document, place, diagram);
            prepared = DocumentPreparation.Prepare(alone, catalog);
            if (!prepared.CanRun)
                throw new DesignException(
                    "twin",
                    $"'{node.Name}' cannot run alone: {prepared.Findings.First(f => f.Severity == Severity.Error).Message}",
                    "Give its parameters numbers, and mend what is found in it."
                );
        }

        /// <summary>
        /// Paths are looked at in the direction in which they are used: from the supply P on, to the return T (ISO 1219-1).
        /// </summary>
        static int Rank(string port) =>
            port.ToUpperInvariant() switch
            {
                "P" => 0,
                "T" or "R" => 2,
                _ => 1,
            };

        // Names that no parameter of the model can have.
        const string Command = "the command";

        static string End(int port) => FormattableString.Invariant($"end {port + 1}");

        static PartNode Part(string type, string name, Dictionary<string, string> parameters) =>
            new()
            {
                Type = type,
                Name = name,
                Parameters = parameters,
            };

        static void Join(DiagramDefinition diagram, string id, string port, string to) =>
            diagram.Wires[$"w{diagram.Wires.Count + 1}"] = new WireNode
            {
                From = new PortReference(id, port),
                To = new PortReference(PartAlone.Name, to),
            };

        static string Number(double value) => value.ToString("R", CultureInfo.InvariantCulture);

        public TwinAnswer Answer()
        {
            double[] commands = [.. Enumerable.Range(-Strokes, 2 * Strokes + 1).Select(i => (double)i / Strokes)];
            var flows = new Dictionary<(int, int), double[]>();
            for (var from = 0; from < ports.Count; from++)
            {
                var times = commands.Select((_, i) => Begin + i * Apart).ToList();
                var through = Run(from, -1, 2, (commands.Length - 1) * Apart, times);
                for (var to = 0; to < ports.Count; to++)
                    if (to != from)
                        flows[(from, to)] = through(to);
            }

            var ((first, second), widest) = flows.Select(f => (f.Key, Most: f.Value.Max())).MaxBy(f => f.Most);
            if (!(widest > 0))
                throw new DesignException("twin", "Nothing flows through it at any command.", "Choose another valve.");
            var lag = Lag(first, second, commands, flows[(first, second)]);
            var given = new ValveFlows(
                [.. ports.Select(p => (p.Name, p.Side == "top" ? PortSide.Top : PortSide.Bottom))],
                commands,
                flows,
                drop,
                lag
            );
            var (valve, error) = ValveTwin.Of(given, $"{node.Name} crude");
            var words = string.Create(
                CultureInfo.InvariantCulture,
                $"At {drop / 1e5:G4} bar its flows differ from those of {node.Name} by {100 * error:G2} % of the largest at most; "
                    + $"its lag is {1e3 * lag:G3} ms."
            );
            return new TwinAnswer(valve, words);
        }

        /// <summary>Steps the command to where most flows, and looks when the flow is what rests at 63 % of the step.</summary>
        double Lag(int from, int to, double[] commands, double[] rest)
        {
            var end = rest[^1] >= rest[0] ? 1 : -1;
            const int Looks = 4000;
            const double Long = 4;
            var times = Enumerable.Range(0, Looks + 1).Select(i => Begin + Long * i / Looks).ToList();
            var flow = Run(from, 0, end, 1e-6, times)(to);
            var share = 1 - Math.Exp(-1);
            var goal = rest[Array.FindIndex(commands, c => Math.Abs(c - end * share) <= 0.5 / Strokes)];
            var start = flow[0];
            var at = Array.FindIndex(flow, f => (f - start) * (goal - start) >= (goal - start) * (goal - start));
            if (at < 0)
                throw new DesignException(
                    "twin",
                    FormattableString.Invariant($"'{node.Name}' has not followed a step of its command after {Long:G2} s."),
                    "A twin is for valves that follow within a second or so."
                );
            if (at == 0)
                return 0;
            var back = (flow[at] - goal) / (flow[at] - flow[at - 1]);
            return Long * (at - back) / Looks;
        }

        /// <summary>What flows out of each port at given times, with one of them under pressure.</summary>
        Func<int, double[]> Run(int high, double offset, double height, double duration, List<double> times)
        {
            WorkBudget.Current.Check();
            int Index(string name) => prepared.Find(name)!.Index;
            var set = new Dictionary<int, double>
            {
                [Index(Command + ".offset")] = offset,
                [Index(Command + ".height")] = height,
                [Index(Command + ".duration")] = duration,
            };
            for (var i = 0; i < ports.Count; i++)
                set[Index(End(i) + ".p")] = i == high ? Low + drop : Low;
            var options = new RunOptions
            {
                End = times[^1],
                OutputTimes = [0, .. times],
                RecordEvents = false,
            };
            using var session = new RunSession(prepared, new ParameterSet(prepared.Model, set), options);
            session.Advance(new PauseAt(), wanted);
            wanted.ThrowIfCancellationRequested();
            if (session.Failure is { } failure)
                throw new DesignException("twin", $"'{node.Name}' cannot run alone: {failure.Message}", failure.Advice);
            var trace = session.Trace;
            var found = new double[ports.Count][];
            for (var port = 0; port < ports.Count; port++)
            {
                var place = prepared.Compiled!.Plan.Representative[Index($"{PartAlone.Name}.{ports[port].Name}.q")];
                // What is the same at all times has no column: a port that no path leads to.
                found[port] = [.. times.Select(t => trace.Has(place) ? -trace.At(place, t) : 0)];
            }

            return port => found[port];
        }
    }
}
