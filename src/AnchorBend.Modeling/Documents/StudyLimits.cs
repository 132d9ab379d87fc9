namespace AnchorBend.Modeling.Documents;

/// <summary>What studies may hold.</summary>
static class StudyLimits
{
    const int MostStudies = 100,
        MostFactors = 200,
        MostRows = 20_000,
        MostOff = 100_000,
        MostRuns = 1_000_000,
        MostCharts = 40,
        MostConditions = 50,
        MostColumns = 30,
        MostTolerances = 500,
        LongestText = 10_000;

    static readonly string[] Designs = ["grid", "one", "random", "latin", "sobol", "shares", "own"];
    static readonly string[] Methods = ["auto", "simplex", "covariance", "differential", "newton", "cutsets"];
    static readonly string[] Charts = ["scatter", "histogram", "box", "map", "matrix", "parallel", "weights", "tornado"];
    static readonly string[] Endings = ["all", "decided", "known"];
    static readonly string[] Unders = ["nominal", "corners", "draws"];
    static readonly string[] Kept = ["sheets", "all", "none"];
    static readonly string[] Fits = ["none", "line", "square", "cubic", "power", "smooth"];

    public static void Hold(ModelDocument document)
    {
        if (document.Studies is null)
            throw new DocumentException("A collection of the document is null.");
        DocumentLimits.AtMost("studies", document.Studies.Count, MostStudies);
        foreach (var (id, study) in document.Studies)
            Check(id, study);
        HoldTolerances(document);
    }

    static void HoldTolerances(ModelDocument document)
    {
        if (document is not { Tolerances: { } tolerances, ToleranceGroups: { } groups })
            throw new DocumentException("A collection of the document is null.");
        DocumentLimits.AtMost("tolerances", tolerances.Count, MostTolerances);
        DocumentLimits.AtMost("groups of tolerances", groups.Count, MostTolerances);
        foreach (var (id, tolerance) in tolerances)
        {
            if (!PartPath.IsId(id) || tolerance is not { Target.Length: > 0, Values: not null } || !double.IsFinite(tolerance.Order))
                throw new DocumentException($"The tolerance '{DocumentLimits.Short(id)}' is incomplete.");
            DocumentLimits.Within(tolerance.Target, 4 * DocumentLimits.LongestName, "The target of a tolerance");
            DocumentLimits.Within(tolerance.Values, DocumentLimits.LongestName, "A tolerance");
        }

        foreach (var (id, group) in groups)
        {
            if (!PartPath.IsId(id) || group is not { Name.Length: > 0 })
                throw new DocumentException($"The group of tolerances '{DocumentLimits.Short(id)}' is incomplete.");
            DocumentLimits.Within(group.Name, DocumentLimits.LongestName, "The name of a group of tolerances");
            if (group.Correlation is not (>= -1 and <= 1))
                throw new DocumentException($"The correlation of '{DocumentLimits.Short(group.Name)}' lies between -1 and 1.");
        }
    }

    static void Check(string id, StudyNode? study)
    {
        if (!PartPath.IsId(id) || study?.Name is not { Length: > 0 } name)
            throw new DocumentException($"The study '{DocumentLimits.Short(id)}' is incomplete.");
        DocumentLimits.Within(name, DocumentLimits.LongestName, "The name of a study");
        DocumentLimits.Within(study.Description, LongestText, "The description of a study");
        if (
            study
                is not {
                    Factors: { } factors,
                    Design: { } design,
                    Conditions: { } conditions,
                    Rows: { } rows,
                    Off: { } off,
                    Charts: { } charts
                }
            || conditions.Any(c => c is null)
            || rows.Any(r => r?.Values is null || r.Values.Values.Any(v => v is null))
        )
            throw Incomplete(name);
        DocumentLimits.AtMost($"factors of {name}", factors.Count, MostFactors);
        DocumentLimits.AtMost($"conditions of {name}", conditions.Count, MostConditions);
        DocumentLimits.AtMost($"rows of {name}", rows.Count, MostRows);
        DocumentLimits.AtMost($"rows of {name} that are not run", off.Count, MostOff);
        DocumentLimits.AtMost($"charts of {name}", charts.Count, MostCharts);
        if (!double.IsFinite(study.Order) || study.WantedYield is { } yield && yield is not (> 0 and < 1))
            throw new DocumentException($"The study '{DocumentLimits.Short(name)}' wants a yield between 0 and 1.");
        foreach (var (key, factor) in factors)
        {
            if (!PartPath.IsId(key) || factor is not { Target.Length: > 0, Values: not null } || !double.IsFinite(factor.Order))
                throw Incomplete(name);
            DocumentLimits.Within(factor.Target, 4 * DocumentLimits.LongestName, "A factor of a study");
            DocumentLimits.Within(factor.Values, LongestText, "The values of a factor");
        }

        foreach (var text in conditions.Concat(rows.SelectMany(r => r.Values.Values)))
            DocumentLimits.Within(text, LongestText, "A text of a study");
        OneOf(name, "design", design.Kind, Designs);
        OneOf(name, "ending", design.Ending, Endings);
        OneOf(name, "keeping", study.Keeps, Kept);
        if (design.Within is not (> 0 and < 0.5))
            throw new DocumentException($"The study '{DocumentLimits.Short(name)}' wants its share to within more than 0, below 0.5.");
        if (design.Runs is < 1 or > MostRuns || design.Draws is < 1 or > MostRuns)
            throw new DocumentException($"The study '{DocumentLimits.Short(name)}' has from 1 to {MostRuns} runs.");
        if (study.Search is { } search)
        {
            if (search.Goal is null)
                throw Incomplete(name);
            OneOf(name, "method", search.Method, Methods);
            OneOf(name, "load", search.Under, Unders);
            DocumentLimits.Within(search.Goal, LongestText, "The goal of a study");
            DocumentLimits.Within(search.Reach, LongestText, "What a search shall come to");
            if (search.Order is < 1 or > 5)
                throw new DocumentException($"The search of '{DocumentLimits.Short(name)}' takes from 1 to 5 faults at once.");
            if (search.Runs is < 1 or > MostRuns)
                throw new DocumentException($"The search of '{DocumentLimits.Short(name)}' takes from 1 to {MostRuns} runs.");
        }

        foreach (var (key, chart) in charts)
        {
            if (!PartPath.IsId(key) || chart is not { X: not null, Y: not null, Columns: { } columns } || columns.Any(c => c is null))
                throw Incomplete(name);
            OneOf(name, "chart", chart.Kind, Charts);
            OneOf(name, "fit", chart.Fit, Fits);
            DocumentLimits.AtMost($"columns of a chart of {name}", columns.Count, MostColumns);
            foreach (var column in (string?[])[chart.X, chart.Y, chart.Z, .. columns])
                DocumentLimits.Within(column, 4 * DocumentLimits.LongestName, "A column of a chart");
        }
    }

    static void OneOf(string study, string what, string? given, string[] known)
    {
        if (!known.Contains(given))
            throw new DocumentException(
                $"The {what} of '{DocumentLimits.Short(study)}' is one of {string.Join(", ", known)}, "
                    + $"not '{DocumentLimits.Short(given ?? "")}'."
            );
    }

    static DocumentException Incomplete(string name) => new($"The study '{DocumentLimits.Short(name)}' is incomplete.");
}
