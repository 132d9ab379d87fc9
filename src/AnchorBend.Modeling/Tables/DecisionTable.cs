using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Tables;

/// <summary>
/// A class that decides by rules: the first one whose cells all hold gives the outputs their values; where none does, these take the value
/// that they start with (an extended-entry decision table, ISO 5806:1984, with the order of rules as their priority).
/// </summary>
public sealed record DecisionTable : WrittenDefinition
{
    public Dictionary<string, ConditionNode> Conditions { get; init; } = [];

    public Dictionary<string, RuleNode> Rules { get; init; } = [];

    internal override string Noun => "decision table";

    internal override string Write() => new DecisionWriter(this).Write();

    internal override DecisionTable WithTexts(Func<string?, string?> text, Func<string?, string?> name)
    {
        Dictionary<string, string> All(Dictionary<string, string> cells) => cells.ToDictionary(c => c.Key, c => text(c.Value)!);
        return this with
        {
            Conditions = Conditions.ToDictionary(c => c.Key, c => c.Value with { Text = text(c.Value.Text)! }),
            Rules = Rules.ToDictionary(r => r.Key, r => r.Value with { When = All(r.Value.When), Then = All(r.Value.Then) }),
        };
    }

    internal override void Check() => TableLimits.Check(this);

    private protected override IReadOnlyList<WrittenFinding> Reviewed() => new DecisionReview(this).All();

    private protected override IReadOnlyDictionary<string, string> Told() => Applies();

    /// <summary>The columns of conditions in their order.</summary>
    internal IEnumerable<KeyValuePair<string, ConditionNode>> Columns => Conditions.OrderBy(c => c.Value.Order);

    /// <summary>The rules in the order in which they are asked.</summary>
    public override string? NameOf(string item) =>
        Rules.ContainsKey(item) ? $"rule {1 + Ordered.TakeWhile(r => r.Key != item).Count()}" : null;

    internal IEnumerable<KeyValuePair<string, RuleNode>> Ordered => Rules.OrderBy(r => r.Value.Order);

    internal IEnumerable<KeyValuePair<string, NameNode>> Outputs =>
        Names.Where(n => n.Value.Kind == NameKind.Output).OrderBy(n => n.Value.Order);

    /// <summary>Of each rule the variable of the class that says whether it is the one that applies.</summary>
    public IReadOnlyDictionary<string, string> Applies() =>
        Ordered.Select((r, i) => (r.Key, i)).ToDictionary(r => r.Key, r => $"rule {r.i + 1}");
}

/// <summary>A column of conditions.</summary>
public sealed record ConditionNode
{
    /// <summary>What is looked at: a quantity, or something that holds or not.</summary>
    public string Text { get; init; } = "";

    /// <summary>Its place among the others; smaller stands first.</summary>
    public double Order { get; init; }
}

/// <summary>A row of a decision table.</summary>
public sealed record RuleNode
{
    /// <summary>Its place among the others; smaller is asked first.</summary>
    public double Order { get; init; }

    /// <summary>What each column must be, by its id; any where there is nothing.</summary>
    public Dictionary<string, string> When { get; init; } = [];

    /// <summary>Values of outputs, by the ids of their names; what they start with where there is nothing.</summary>
    public Dictionary<string, string> Then { get; init; } = [];

    /// <summary>Why the rule is there.</summary>
    public string? Note { get; init; }
}

/// <summary>What a cell asks of its column.</summary>
static class ConditionCell
{
    static readonly (string Typed, string Operator)[] Comparisons =
    [
        ("<=", "<="),
        (">=", ">="),
        ("<>", "<>"),
        ("==", "=="),
        ("≤", "<="),
        ("≥", ">="),
        ("≠", "<>"),
        ("<", "<"),
        (">", ">"),
        ("=", "=="),
    ];

    /// <summary>The condition in the equation language; null where anything will do.</summary>
    public static string? Condition(string column, string? cell)
    {
        var text = cell?.Trim() ?? "";
        if (text is "" or "any")
            return null;
        if (text is "yes" or "true")
            return $"({column})";
        if (text is "no" or "false")
            return $"not ({column})";
        foreach (var (typed, comparison) in Comparisons)
            if (text.StartsWith(typed, StringComparison.Ordinal))
                return $"({column}) {comparison} {text[typed.Length..].Trim()}";
        if (text.IndexOf("..", StringComparison.Ordinal) is > 0 and var range)
            return $"(({column}) >= {text[..range].Trim()} and ({column}) <= {text[(range + 2)..].Trim()})";
        if (text.Contains(',', StringComparison.Ordinal) && !text.Contains('(', StringComparison.Ordinal))
            return $"({string.Join(" or ", text.Split(',', StringSplitOptions.TrimEntries).Select(one => $"({column}) == {one}"))})";
        return $"({column}) == {text}";
    }
}
