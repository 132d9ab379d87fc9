using System.Diagnostics;
using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Preparation;

/// <summary>A model ready to run: elaborated, planned and compiled, with everything found on the way.</summary>
public sealed class PreparedModel
{
    public required FlatModel Model { get; init; }

    public required IReadOnlyList<Finding> Findings { get; init; }

    /// <summary>Null when errors prevent a run.</summary>
    public required CompiledPlan? Compiled { get; init; }

    /// <summary>Leads from the flat model back to what was drawn; empty where the model is a text.</summary>
    public required SourceMap Map { get; init; }

    /// <summary>The dimension of each variable as far as it is known.</summary>
    public required Dimension?[] Dimensions { get; init; }

    /// <summary>What the compiled plan depends on; equal keys share one plan.</summary>
    public required string StructureKey { get; init; }

    public double CompileSeconds { get; init; }

    /// <summary>A variable by identity (<see cref="SignalReference"/>), by name or by path; null where there is none.</summary>
    public FlatVariable? Find(string reference) => Model.Find(Map.NameOf(reference)) ?? Model.Find(reference);

    public FlatVariable? Find(SignalReference signal) => Map.NameOf(signal) is { } name ? Model.Find(name) : null;

    /// <summary>The name of the variable that a run records for one: all that equal each other share it.</summary>
    public string RecordedName(int variable) =>
        Model.Variables[Compiled is { } c && variable < c.Plan.Representative.Length ? c.Plan.Representative[variable] : variable].Name;

    /// <summary>The variables that a part declares itself, by its path in the flat model; of the model itself for the empty path.</summary>
    public IEnumerable<FlatVariable> OwnedBy(string owner) => owned.Value[owner].Select(i => Model.Variables[i]);

    Lazy<ILookup<string, int>> owned;

    public PreparedModel() => owned = new(() => Model!.Variables.ToLookup(v => v.Owner, v => v.Index));

    public bool CanRun => Compiled is not null;

    /// <summary>Prepares a flat model.</summary>
    /// <param name="earlier">A model prepared before, whose code is used again when only values differ.</param>
    /// <param name="log">Is told what each pass has made; null for nobody.</param>
    public static PreparedModel Prepare(
        FlatModel model,
        IReadOnlyList<Finding> found,
        SourceMap map,
        PreparedModel? earlier = null,
        PassLog? log = null
    )
    {
        log?.Add("flat model", FlatModelText.Print(model));
        var watch = Stopwatch.StartNew();
        var findings = new List<Finding>(found);
        var (dimensions, unitFindings) = UnitInference.Infer(model);
        findings.AddRange(unitFindings);
        if (findings.All(f => f.Severity != Severity.Error))
            findings.AddRange(ParameterAssertions.Missed(model, map));
        CompiledPlan? compiled = null;
        var key = "";
        if (findings.All(f => f.Severity != Severity.Error))
        {
            key = Preparation.StructureKey.Of(model);
            if (earlier?.Compiled is not null && earlier.StructureKey == key)
            {
                compiled = earlier.Compiled;
                findings.AddRange(earlier.Findings.Where(f => f.Code is "algebraic-loop" or "index-reduction"));
            }
            else
            {
                using var counted = WorkBudget.BeginCount();
                try
                {
                    var (plan, planFindings) = Planner.Plan(model, log);
                    findings.AddRange(planFindings);
                    if (plan is not null)
                    {
                        compiled = PlanEmitter.Compile(plan);
                        log?.Add("plan", ExecutionPlanText.Print(plan));
                        log?.Add("analyses", AnalysisText.Print(compiled));
                    }
                }
                catch (BudgetException e)
                {
                    findings.Add(new Finding(Severity.Error, e.Error.Code, e.Error.Message, "", null, e.Error.At, e.Error.Suggestion));
                }
            }
        }

        log?.Add("findings", string.Join('\n', findings.Select(f => $"{f.Severity} {f.Code} {f.Part} {f.Item}: {f.Message}")));
        return new PreparedModel
        {
            Model = model,
            Findings = findings,
            Compiled = compiled,
            Map = map,
            Dimensions = dimensions,
            StructureKey = key,
            CompileSeconds = watch.Elapsed.TotalSeconds,
        };
    }

    /// <summary>What could not even be read, with what was found wrong.</summary>
    public static PreparedModel Unreadable(IReadOnlyList<Finding> findings) =>
        new()
        {
            Model = new FlatModel { Name = "" },
            Findings = findings,
            Compiled = null,
            Map = SourceMap.Empty,
            Dimensions = [],
            StructureKey = "",
        };

    /// <summary>Prepares a diagram.</summary>
    public static PreparedModel Prepare(Elaboration elaboration, PreparedModel? earlier = null) =>
        Prepare(elaboration.Model, elaboration.Findings, elaboration.Map, earlier);

    /// <summary>The same model with code that counts what it decides and does; others that are prepared after it share it.</summary>
    public PreparedModel Counting() =>
        Compiled is null || Compiled.Counters.Count > 0
            ? this
            : new()
            {
                Model = Model,
                Findings = Findings,
                Compiled = PlanEmitter.Compile(Compiled.Plan, true),
                Map = Map,
                Dimensions = Dimensions,
                StructureKey = StructureKey,
                CompileSeconds = CompileSeconds,
            };

    /// <summary>The same model with other findings.</summary>
    internal PreparedModel With(IReadOnlyList<Finding> findings) =>
        new()
        {
            Model = Model,
            Findings = findings,
            Compiled = Compiled,
            Map = Map,
            Dimensions = Dimensions,
            StructureKey = StructureKey,
            CompileSeconds = CompileSeconds,
        };

    /// <summary>The same model with other values of parameters, which change neither its code nor its findings.</summary>
    internal PreparedModel With(FlatModel model) =>
        new()
        {
            Model = model,
            Findings = Findings,
            Compiled = Compiled,
            Map = Map,
            Dimensions = Dimensions,
            StructureKey = StructureKey,
            owned = owned,
        };
}
