using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;
using System.Security.Cryptography;
using System.Text;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Simulation;

/// <summary>A model ready to run: elaborated, planned and compiled, with everything found on the way.</summary>
public sealed class PreparedModel
{
    public required FlatModel Model { get; init; }

    public required IReadOnlyList<Finding> Findings { get; init; }

    /// <summary>Null when errors prevent a run.</summary>
    public required CompiledPlan? Compiled { get; init; }

    public required IReadOnlyDictionary<string, string> PartIds { get; init; }

    /// <summary>The dimension of each variable as far as it is known.</summary>
    public required Dimension?[] Dimensions { get; init; }

    /// <summary>What the compiled plan depends on; equal keys share one plan.</summary>
    public required string StructureKey { get; init; }

    public double CompileSeconds { get; init; }

    /// <summary>A variable by identity (<c>partId.port</c>), by name or by path; null where there is none.</summary>
    public FlatVariable? Find(string reference)
    {
        var dot = reference.IndexOf('.', StringComparison.Ordinal);
        pathOf ??= PartIds.ToDictionary(p => p.Value, p => p.Key);
        return dot > 0 && pathOf.TryGetValue(reference[..dot], out var path) && Model.Find(path + reference[dot..]) is { } port
            ? port
            : Model.Find(reference);
    }

    Dictionary<string, string>? pathOf;

    public bool CanRun => Compiled is not null;

    /// <summary>Prepares a flat model.</summary>
    /// <param name="earlier">A model prepared before, whose code is used again when only values differ.</param>
    public static PreparedModel Prepare(
        FlatModel model,
        IReadOnlyList<Finding> found,
        IReadOnlyDictionary<string, string> partIds,
        PreparedModel? earlier = null
    )
    {
        var watch = Stopwatch.StartNew();
        var findings = new List<Finding>(found);
        var (dimensions, unitFindings) = UnitInference.Infer(model);
        findings.AddRange(unitFindings);
        CompiledPlan? compiled = null;
        var key = "";
        if (findings.All(f => f.Severity != Severity.Error))
        {
            key = StructureOf(model);
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
                    var (plan, planFindings) = Planner.Plan(model);
                    findings.AddRange(planFindings);
                    if (plan is not null)
                        compiled = PlanEmitter.Compile(plan);
                }
                catch (BudgetException e)
                {
                    findings.Add(new Finding(Severity.Error, e.Error.Code, e.Error.Message, "", null, e.Error.At, e.Error.Suggestion));
                }
            }
        }

        return new PreparedModel
        {
            Model = model,
            Findings = findings,
            Compiled = compiled,
            PartIds = partIds,
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
            PartIds = new Dictionary<string, string>(),
            Dimensions = [],
            StructureKey = "",
        };

    /// <summary>Prepares a diagram.</summary>
    public static PreparedModel Prepare(Elaboration elaboration, PreparedModel? earlier = null) =>
        Prepare(elaboration.Model, elaboration.Findings, elaboration.PartIds, earlier);

    /// <summary>The same model with other findings.</summary>
    internal PreparedModel With(IReadOnlyList<Finding> findings) =>
        new()
        {
            Model = Model,
            Findings = findings,
            Compiled = Compiled,
            PartIds = PartIds,
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
            PartIds = PartIds,
            Dimensions = Dimensions,
            StructureKey = StructureKey,
        };

    /// <summary>
    /// Everything that a compiled plan holds of a flat model: all but the bindings of parameters, which a run takes from outside. Which of
    /// these are zero belongs to it, as products with zero are left out and loops are torn so that nothing is divided by one.
    /// </summary>
    static string StructureOf(FlatModel model)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var line = new StringBuilder();
        void Append(params ReadOnlySpan<object?> entries)
        {
            line.Clear();
            foreach (var entry in entries)
            {
                if (entry is Term term)
                    TermKey.Write(line, term);
                else
                    line.Append(CultureInfo.InvariantCulture, $"{entry}");
                line.Append('\n');
            }

            foreach (var chunk in line.GetChunks())
                hash.AppendData(MemoryMarshal.AsBytes(chunk.Span));
        }

        var values = model.ParameterValues();
        Append(model.Name);
        foreach (var v in model.Variables)
        {
            Append(
                v.Name,
                v.Owner,
                v.Role,
                v.Type,
                v.Derivative,
                v.IsFixed,
                v.IsFixedByDefault,
                v.Selection,
                v.Role == VariableRole.Parameter && values[v.Index] == 0
            );
            Append(v.Start, v.Nominal, v.Minimum, v.Maximum, v.IsStructural ? v.Binding : null);
        }

        foreach (var e in model.Equations)
            Append(e.Left, e.Right, e.Owner);
        Append("start");
        foreach (var e in model.InitialEquations)
            Append(e.Left, e.Right, e.Owner);
        Append("reinit");
        foreach (var r in model.Reinits)
            Append(r.Condition, r.State, r.Value, r.Owner);
        Append("clock");
        foreach (var c in model.Clocks)
            Append(c.Flag, c.Start, c.Interval, c.Owner);
        Append("delay");
        foreach (var d in model.Delays)
            Append(d.Source, d.Duration, d.Varying, d.Owner);
        Append("assert");
        foreach (var a in model.Assertions)
            Append(a.Condition, a.Message, a.IsError, a.Owner);
        return Convert.ToHexString(hash.GetHashAndReset());
    }
}
