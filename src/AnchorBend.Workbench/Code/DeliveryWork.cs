using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Delivery;
using AnchorBend.Delivery.Exchange;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Code;

/// <summary>How what was handed on stands to the model as it is.</summary>
public enum DeliveryState
{
    /// <summary>It was never handed on.</summary>
    New,

    /// <summary>It would be the same again.</summary>
    Current,

    /// <summary>The model has changed since.</summary>
    Older,

    /// <summary>It cannot be made of the model as it is.</summary>
    Broken,
}

/// <param name="Part">Names from the root down.</param>
/// <param name="Lines">Of all files.</param>
/// <param name="Message">Why it cannot be made, and what to do.</param>
/// <param name="Hash">Of what it would be now.</param>
/// <param name="Check">The last one; null where it was never checked.</param>
public sealed record DeliveryView(
    string Id,
    DeliveryState State,
    string? Hash,
    string Part,
    int Lines,
    string? Message,
    string? Advice,
    DeliveryCheck? Check
);

/// <summary>A part that could be handed on.</summary>
/// <param name="Part">By ids from the root.</param>
/// <param name="Name">Names from the root down.</param>
/// <param name="IsOwn">Whether it is made of others, or written in this model; one of the catalog otherwise.</param>
public sealed record DeliveryCandidate(string Part, string Name, bool IsOwn);

/// <summary>What the checks of code came to.</summary>
/// <param name="Hash">Of the code that was checked.</param>
/// <param name="Compiler">What it said; empty where it said nothing.</param>
/// <param name="Rules">Rules of MISRA C:2012 that are not kept and not justified; null where there is no static checker.</param>
/// <param name="Drawn">Compared with inputs drawn at random.</param>
/// <param name="Run">How far a whole model is from its run; null for a part.</param>
/// <param name="Counts">Of the source, by the cases alone; by the drawn inputs where no case was run.</param>
public sealed record DeliveryCheck(
    string Hash,
    string Compiler,
    IReadOnlyList<string>? Rules,
    CodeCheck Drawn,
    IReadOnlyList<CodeCase> Cases,
    IReadOnlyList<LineCount> Counts,
    CodeSize Size,
    RunDistance? Run,
    DateTime Made
)
{
    /// <summary>How often the compiler warned.</summary>
    public int Warnings => Compiler.Split("warning:").Length - 1;

    /// <summary>Whether cases have reached what was reached.</summary>
    public bool IsByCases => Cases.Any(c => c.Outcome != CodeCaseOutcome.NotRun);

    /// <summary>Times that algebraic loops were not solved or decisions did not settle, in the model's steps as in the code's.</summary>
    public long Troubles => Drawn.Unsolved + Drawn.Unsettled + Cases.Sum(c => c.Unsolved + c.Unsettled);

    /// <summary>Share of all lines that can run and of all outcomes of their conditions that were reached.</summary>
    public double Reached => (double)Counts.Sum(c => (c.Count > 0 ? 1 : 0) + c.Reached) / Math.Max(1, Counts.Sum(c => 1 + c.Ways));

    /// <summary>Lines that were not reached, or not with all outcomes.</summary>
    public IReadOnlyList<int> Open => [.. Counts.Where(c => c.Count == 0 || c.Reached < c.Ways).Select(c => c.Line)];
}

/// <summary>What of a model is handed on: how it stands, what it is made of, its checks.</summary>
public sealed class DeliveryWork(ModelWork models, ComputeGate compute, ICodeCheckStore store)
{
    static readonly TimeSpan MostWriting = TimeSpan.FromSeconds(60),
        MostChecking = TimeSpan.FromSeconds(300);

    const int DrawnSteps = 5000,
        Seed = 1;

    /// <summary>Justified in the documentation of the code: functions that only one other calls stand beside it.</summary>
    static readonly string[] Justified = ["8.9"];

    public IReadOnlyList<DeliveryView> List(string model, CancellationToken wanted)
    {
        var session = models.Session(model);
        return compute.Run(MostWriting, wanted, w =>
        {
            var (whole, document, _) = session.Prepare(w);
            var checks = store.Of(session.Id);
            return document.Deliveries.OrderBy(d => d.Value.Order).Select(d => View(d.Key, d.Value)).ToList();

            DeliveryView View(string id, DeliveryNode node)
            {
                w.ThrowIfCancellationRequested();
                var part = PartPath.TryParse(node.Part, out var path) ? whole.Map.NameOf(path) ?? "" : "";
                try
                {
                    var code = Written(session, whole, document, node);
                    var state =
                        node.Delivered is not { } last ? DeliveryState.New
                        : last.Hash == code.Hash ? DeliveryState.Current
                        : DeliveryState.Older;
                    return new DeliveryView(
                        id,
                        state,
                        code.Hash,
                        part,
                        code.Files.Sum(f => f.Text.Count(c => c == '\n')),
                        null,
                        null,
                        checks.GetValueOrDefault(id)
                    );
                }
                catch (DeliveryException e)
                {
                    return new DeliveryView(id, DeliveryState.Broken, null, part, 0, e.Message, e.Advice, null);
                }
            }
        });
    }

    /// <summary>Checks of the code as it is now, by delivery.</summary>
    public IReadOnlyDictionary<string, DeliveryCheck> Checks(string model, CancellationToken wanted) =>
        List(model, wanted).Where(v => v.Check is { } check && check.Hash == v.Hash).ToDictionary(v => v.Id, v => v.Check!);

    /// <summary>Candidates told at most.</summary>
    const int MostCandidates = 500;

    /// <summary>Parts whose inputs and outputs are signals: those of the model's own first, then those of the catalog.</summary>
    public IReadOnlyList<DeliveryCandidate> Candidates(string model, CancellationToken wanted)
    {
        var session = models.Session(model);
        return compute.Run(MostWriting, wanted, w =>
        {
            var (whole, document, _) = session.Prepare(w);
            var catalog = session.Catalog();
            List<DeliveryCandidate> all = whole.CanRun ? [new("", document.Name, true)] : [];
            all.AddRange(
                whole
                    .Map.Parts.Where(p => Computes(catalog, p.Node.Type))
                    .Select(p => new DeliveryCandidate(
                        p.Path.ToString(),
                        whole.Map.NameOf(p.Path) ?? "",
                        DefinitionReference.Parse(p.Node.Type).IsOwn
                    ))
                    .OrderBy(c => !c.IsOwn)
                    .ThenBy(c => c.Name, StringComparer.OrdinalIgnoreCase)
                    .Take(MostCandidates)
            );
            return (IReadOnlyList<DeliveryCandidate>)all;
        });
    }

    static bool Computes(PartCatalog catalog, string type)
    {
        if (PortPart.KindOf(catalog.Find(type)) is not null)
            return false;
        var ports = catalog.Describe(type).Ports.Where(p => p.Optional is null).ToList();
        return ports.TrueForAll(p => p.Domain is null)
            && ports.Exists(p => p.Causality == Causality.Input)
            && ports.Exists(p => p.Causality == Causality.Output);
    }

    internal static CodeOrder OrderOf(DeliveryNode node) =>
        new(
            node.Part,
            node.Step,
            node.Method,
            node.IsFloat,
            node.Tunable,
            node.Alternative,
            node is { Kind: DeliveryKind.ExchangeUnit, IsSolvedOutside: true }
        );

    /// <exception cref="DeliveryException">It cannot become code; says why.</exception>
    public WrittenCode Written(string model, string delivery, CancellationToken wanted)
    {
        var session = models.Session(model);
        return compute.Run(MostWriting, wanted, w =>
        {
            var (whole, document, _) = session.Prepare(w);
            return Written(session, whole, document, Node(document, delivery));
        });
    }

    /// <summary>What was written of models that are at hand: the list and the code itself ask for the same.</summary>
    readonly ConditionalWeakTable<PreparedModel, ConcurrentDictionary<DeliveryNode, WrittenCode>> written = [];

    WrittenCode Written(ModelSession session, PreparedModel whole, ModelDocument document, DeliveryNode node) =>
        written
            .GetValue(whole, _ => new())
            .GetOrAdd(node, _ => Written(CodeUnit.Of(whole, document, session.Catalog(), CodeWork.Request(OrderOf(node))), node));

    /// <summary>The same code is another exchange unit in another version of the standard.</summary>
    internal static WrittenCode Written(CodeUnit unit, DeliveryNode node)
    {
        var code = CodeWork.Written(unit);
        return node.Kind == DeliveryKind.ExchangeUnit ? code with { Hash = $"{code.Hash}-{node.Version}" } : code;
    }

    /// <exception cref="DeliveryException">It cannot become code, or does not compile or run; says why.</exception>
    public DeliveryCheck Check(string model, string delivery, CancellationToken wanted)
    {
        var session = models.Session(model);
        return compute.Run(MostChecking, wanted, w =>
        {
            var (unit, document) = Unit(session, delivery, w);
            unit.RefuseSteps();
            using var bench = CodeBench.Build(unit, true, w);
            var runs = new CodeOfCases(document, _ => session.Catalog(), unit.Request, bench);
            List<CodeCase> cases = [.. document.Cases.OrderBy(c => c.Value.Order).Select(c => runs.Of(c.Key, w))];
            var counts = cases.Exists(c => c.Outcome != CodeCaseOutcome.NotRun) ? bench.Counts(w) : null;
            var drawn = bench.Run(unit, DrawnInputs.Of(unit, DrawnSteps, Seed), w);
            var check = new DeliveryCheck(
                Written(unit, document.Deliveries[delivery]).Hash,
                bench.Messages,
                bench.RulesMissed(w)?.Except(Justified).ToList(),
                CodeCheck.Of(drawn),
                cases,
                counts ?? bench.Counts(w),
                bench.Size(w),
                unit.Request.Part.Length > 0 ? null : UnitAgainstRun.Of(unit, session.Prepare(w).Prepared, document, w),
                DateTime.UtcNow
            );
            store.Put(session.Id, delivery, check);
            return check;
        });
    }

    /// <summary>All files of a delivery, with the table of lines and parts, packed.</summary>
    /// <exception cref="DeliveryException">It cannot become code; says why.</exception>
    public (string Name, byte[] Bytes) Archive(string model, string delivery, CancellationToken wanted)
    {
        var session = models.Session(model);
        return compute.Run(MostWriting, wanted, w =>
        {
            var (unit, document) = Unit(session, delivery, w);
            var node = document.Deliveries[delivery];
            return node.Kind == DeliveryKind.ExchangeUnit
                ? ExchangeUnit.Pack(unit, node.Version ?? "3.0", TypedValue.Number(document.Settings.End, Second), w)
                : Packed(unit);
        });
    }

    static (string Name, byte[] Bytes) Packed(CodeUnit unit)
    {
        var files = CodeFiles.Of(unit, CWriter.Write(unit));
        return (Path.ChangeExtension(files[0].Name, ".zip"), PackedFiles.Of(files.Select(f => PackedFiles.Text(f.Name, f.Text))));
    }

    static readonly Language.Units.Unit Second = Language.Units.Unit.Parse("s");

    (CodeUnit Unit, ModelDocument Document) Unit(ModelSession session, string delivery, CancellationToken wanted)
    {
        var (whole, document, _) = session.Prepare(wanted);
        return (CodeUnit.Of(whole, document, session.Catalog(), CodeWork.Request(OrderOf(Node(document, delivery)))), document);
    }

    internal static DeliveryNode Node(ModelDocument document, string delivery) =>
        document.Deliveries.GetValueOrDefault(delivery) ?? throw new NotFoundException("This delivery is not in the model any more.");
}
