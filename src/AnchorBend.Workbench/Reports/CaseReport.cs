using System.Reflection;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Coverage;

namespace AnchorBend.Workbench.Reports;

/// <summary>What a report of cases is made from.</summary>
/// <param name="Document">The model with its requirements and cases.</param>
/// <param name="Revision">Null for a model from a file.</param>
/// <param name="Results">By case, in their order; null where one was never run.</param>
/// <param name="Version">Of this program.</param>
/// <param name="Made">When the report is made.</param>
public sealed record CaseReport(
    ModelDocument Document,
    long? Revision,
    IReadOnlyList<(string Id, CaseNode Node, CaseResult? Result, bool IsStale)> Results,
    CoverageView? Coverage,
    string Version,
    DateTime Made
)
{
    /// <summary>By requirement: the parts that it is about, as people call them; empty where nobody looked.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>> Parts { get; init; } = new Dictionary<string, IReadOnlyList<string>>();

    /// <summary>By delivery: its last check, of the code as it is.</summary>
    public IReadOnlyDictionary<string, DeliveryCheck> Checks { get; init; } = new Dictionary<string, DeliveryCheck>();

    /// <summary>Version of this program.</summary>
    public static string Program =>
        typeof(CaseReport).Assembly.GetCustomAttribute<AssemblyInformationalVersionAttribute>()?.InformationalVersion ?? "";

    public int Count(CaseOutcome outcome) => Results.Count(r => r.Result?.Outcome == outcome);

    /// <summary>Whether every case has passed, with results of the model as it is.</summary>
    public bool IsPassed => Results.Count > 0 && Results.All(r => r is { Result.Outcome: CaseOutcome.Passed, IsStale: false });

    public string GroupOf(CaseNode node) => node.Group is { } id && Document.CaseGroups.TryGetValue(id, out var group) ? group.Name : "";

    /// <summary>What went wrong in a case, a line for each; nothing where nothing did.</summary>
    public static IEnumerable<string> Failures(CaseResult result)
    {
        if (result.Problem is { } problem)
            yield return problem;
        foreach (var r in result.Requirements.Where(r => r.Applies && r.Verdict.Kind != Verification.VerdictKind.Met))
            yield return $"{r.Verdict.Name}: {Told(r.Verdict.Kind, r.Verdict.Margin, r.Verdict.Unit, r.Verdict.Explanation)}";
        foreach (var c in result.Courses.Where(c => c.Kind != Verification.VerdictKind.Met))
            yield return $"{c.Label}: {Told(c.Kind, c.Margin, c.Unit, c.Explanation)}";
        foreach (var m in result.Measures.Where(m => m.Kind != Verification.VerdictKind.Met))
            yield return $"{m.Name}: {Told(m.Kind, m.Margin, m.Unit, m.Explanation)}";
    }

    static string Told(Verification.VerdictKind kind, double? margin, string unit, string explanation) =>
        kind == Verification.VerdictKind.Open
            ? $"open, {explanation}"
            : $"missed{(margin is { } m ? FormattableString.Invariant($" by {Math.Abs(m):G4} {unit}").TrimEnd() : "")}, {explanation}";
}
