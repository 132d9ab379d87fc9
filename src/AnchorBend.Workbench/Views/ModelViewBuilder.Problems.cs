using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Verification;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Views;

/// <content>What is wrong beside the equations: alerts, requirements and settings that say nothing.</content>
sealed partial class ModelViewBuilder
{
    /// <summary>Alerts whose conditions cannot be read.</summary>
    IEnumerable<FindingView> AlertProblems()
    {
        if (!Prepared.CanRun)
            yield break;
        foreach (var alert in document.Alerts.Values)
        foreach (var text in (string?[])[alert.Condition, alert.Inhibit])
            if (text is { Length: > 0 } && Runs.AlertWatch.Read(Prepared, values, text).Problem is { } problem)
                yield return new FindingView(
                    "warning",
                    "alert",
                    $"The alert '{alert.Text}' is never raised: {problem}",
                    null,
                    null,
                    null,
                    alert.Text,
                    "Change its condition in the list of alerts.",
                    [],
                    null
                );
    }

    /// <summary>Requirements that no run would judge, beside those whose signals are gone.</summary>
    IEnumerable<FindingView> RequirementProblems()
    {
        if (!Prepared.CanRun || document.Requirements.Count == 0)
            yield break;
        var parameters = new ParameterSet(Prepared.Model);
        var told = Prepared.Findings.Select(f => f.Item).ToHashSet();
        foreach (var requirement in document.Requirements.Values.Where(r => !told.Contains(r.Name)))
            if (RequirementCheck.ProblemOf(Prepared, parameters, requirement, document.Measures) is { } problem)
                yield return new FindingView(
                    "warning",
                    "requirement",
                    $"The requirement '{requirement.Name}' is not judged: {problem}",
                    null,
                    null,
                    null,
                    requirement.Name,
                    "Change it in Verify.",
                    [],
                    null
                );
    }

    /// <summary>What is wrong with the settings of a run; null where it can start.</summary>
    FindingView? SettingsProblem()
    {
        try
        {
            DocumentRun.OptionsOf(document);
            return null;
        }
        catch (DocumentException e)
        {
            const string advice = "Mend it in the run settings, at the right end of the time bar.";
            return new FindingView("error", "settings", e.Message, null, null, null, "run settings", advice, [], null);
        }
    }
}
