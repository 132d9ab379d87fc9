namespace AnchorBend.Modeling.Documents;

/// <summary>What test cases may hold.</summary>
static class CaseLimits
{
    const int MostCases = 5000,
        MostGroups = 500,
        MostTags = 50,
        MostValues = 200,
        MostExpected = 200,
        MostMeasures = 200,
        MostJustifications = 5000,
        LongestText = 10_000,
        LongestSide = 40;

    public static void Hold(ModelDocument document)
    {
        if (document is not { Cases: { } cases, CaseGroups: { } groups, Justifications: { } justifications })
            throw new DocumentException("A collection of the document is null.");
        DocumentLimits.AtMost("cases", cases.Count, MostCases);
        DocumentLimits.AtMost("groups of cases", groups.Count, MostGroups);
        foreach (var (id, group) in groups)
        {
            if (!PartPath.IsId(id) || group is not { Name.Length: > 0, Values: { } values } || !double.IsFinite(group.Order))
                throw new DocumentException($"The group of cases '{DocumentLimits.Short(id)}' is incomplete.");
            Texts("group of cases", group.Name, group.Description);
            Check(group.Name, values);
        }

        foreach (var (id, node) in cases)
            Check(id, node);
        DocumentLimits.AtMost("justifications", justifications.Count, MostJustifications);
        foreach (var (id, node) in justifications)
        {
            if (!PartPath.IsId(id) || node is not { Goal: { Length: > 0 } goal, Side.Length: > 0 and <= LongestSide, Reason: not null })
                throw new DocumentException($"The justification '{DocumentLimits.Short(id)}' is incomplete.");
            DocumentLimits.Within(goal, 10 * DocumentLimits.LongestName, "What a justification is of");
            DocumentLimits.Within(node.Reason, LongestText, "A justification");
            DocumentLimits.Within(node.By, DocumentLimits.LongestName, "The name at a justification");
            DocumentLimits.Within(node.Date, DocumentLimits.LongestName, "The date of a justification");
        }
    }

    static void Texts(string what, string name, string? description)
    {
        DocumentLimits.Within(name, DocumentLimits.LongestName, $"The name of a {what}");
        DocumentLimits.Within(description, LongestText, $"The description of a {what}");
    }

    static void Check(string name, Dictionary<string, CaseValueNode> values)
    {
        DocumentLimits.AtMost($"values of {name}", values.Count, MostValues);
        foreach (var (id, value) in values)
        {
            if (!PartPath.IsId(id) || value is not { Target.Length: > 0, Text: not null } || !double.IsFinite(value.Order))
                throw Incomplete(name);
            DocumentLimits.Within(value.Target, 4 * DocumentLimits.LongestName, "What a case sets");
            DocumentLimits.Within(value.Text, LongestText, "A value of a case");
        }
    }

    static void Check(string id, CaseNode? node)
    {
        if (!PartPath.IsId(id) || node?.Name is not { Length: > 0 } name)
            throw new DocumentException($"The case '{DocumentLimits.Short(id)}' is incomplete.");
        Texts("case", name, node.Description);
        if (
            node is not { Tags: { } tags, Values: { } values, Expected: { } expected, Measures: { } measures }
            || tags.Any(t => t is not { Length: > 0 })
            || node.Requirements?.Any(r => r is null) == true
            || !double.IsFinite(node.Order)
        )
            throw Incomplete(name);
        DocumentLimits.AtMost($"tags of {name}", tags.Count, MostTags);
        foreach (var text in (string?[])[.. tags, node.Group, node.Subject, node.Stimulus, node.Point, node.End, node.Method, node.Step])
            DocumentLimits.Within(text, DocumentLimits.LongestName, "A setting of a case");
        Check(name, values);
        DocumentLimits.AtMost($"expected courses of {name}", expected.Count, MostExpected);
        foreach (var (key, course) in expected)
            Check(name, key, course);
        DocumentLimits.AtMost($"measures of {name}", measures.Count, MostMeasures);
        foreach (var (key, measure) in measures)
        {
            if (!PartPath.IsId(key) || measure is not { Measure.Length: > 0 })
                throw Incomplete(name);
            DocumentLimits.Within(measure.AtLeast, DocumentLimits.LongestName, "A limit of a case");
            DocumentLimits.Within(measure.AtMost, DocumentLimits.LongestName, "A limit of a case");
        }
    }

    static void Check(string name, string key, ExpectedNode? course)
    {
        if (
            !PartPath.IsId(key)
            || course is not { Signal.Length: > 0, Times: { } times, Values: { } values, Lower: { } lower, Upper: { } upper }
        )
            throw Incomplete(name);
        DocumentLimits.Within(course.Signal, 4 * DocumentLimits.LongestName, "The signal of an expected course");
        DocumentLimits.Within(course.Unit, DocumentLimits.LongestName, "The unit of an expected course");
        DocumentLimits.AtMost($"points of an expected course of {name}", times.Count, ExpectedNode.MostPoints);
        if (values.Count != times.Count || lower.Count > 0 && lower.Count != times.Count || upper.Count > 0 && upper.Count != times.Count)
            throw new DocumentException($"An expected course of '{DocumentLimits.Short(name)}' has not as many values as instants.");
        if (times.Concat(values).Concat(lower).Concat(upper).Any(v => !double.IsFinite(v)))
            throw new DocumentException($"An expected course of '{DocumentLimits.Short(name)}' has a value that is no number.");
        for (var i = 1; i < times.Count; i++)
            if (times[i] < times[i - 1])
                throw new DocumentException($"The instants of an expected course of '{DocumentLimits.Short(name)}' do not rise.");
        if (!(course.Absolute >= 0) || !(course.Relative >= 0) || !(course.Time >= 0) || !double.IsFinite(course.Absolute + course.Time))
            throw new DocumentException($"A tolerance of '{DocumentLimits.Short(name)}' is negative or no number.");
    }

    static DocumentException Incomplete(string name) => new($"The case '{DocumentLimits.Short(name)}' is incomplete.");
}
