using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Studies;

/// <summary>
/// A search for a run that comes to something is one for a run that misses the requirement never to come to it. That requirement is part
/// of what the study runs, and not of the model.
/// </summary>
static class SoughtRun
{
    /// <summary>The document and the study as they are run.</summary>
    public static (ModelDocument Document, StudyNode Study) Of(ModelDocument document, StudyNode study)
    {
        if (study.Search is not { Reach: { Length: > 0 } reach } search)
            return (document, study);
        var id = "sought";
        while (document.Requirements.ContainsKey(id))
            id += "1";
        var never = new RequirementNode
        {
            Name = "Does not come to it",
            Signal = "",
            Rule = $"not (eventually ({reach}))",
        };
        return (
            document with
            {
                Requirements = new(document.Requirements) { [id] = never },
            },
            study with
            {
                Search = search with { Worst = id },
            }
        );
    }
}
