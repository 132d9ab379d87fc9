using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Tables;

/// <summary>
/// What is missing from a decision table and what overlaps in it. What no rule covers is found by taking the rules away from all there can
/// be, one after the other: what is left of a set of conditions behind a rule falls into disjoint parts, one for each of the rule's cells
/// that does not hold while those before it do. A rule that nothing is left for is never asked.
/// </summary>
sealed class DecisionReview
{
    /// <summary>Sets of conditions that are kept; beyond them nothing is said.</summary>
    const int MostLeft = 4000;

    /// <summary>Overlaps that are told; more say nothing more.</summary>
    const int MostOverlaps = 50;

    readonly DecisionTable table;
    readonly GuardDecision decision;
    readonly List<WrittenFinding> found = [];

    public DecisionReview(DecisionTable table) => (this.table, decision) = (table, new GuardDecision(table.Names.Values));

    void Tell(Severity severity, string code, string message, string? item, string suggestion, string? other = null) =>
        found.Add(new WrittenFinding(severity, "decision-" + code, message, item, suggestion, other));

    public IReadOnlyList<WrittenFinding> All()
    {
        var columns = table.Columns.ToList();
        var rules = table.Ordered.ToList();
        if (rules.Count == 0 || table.Outputs.FirstOrDefault().Value is null)
        {
            Tell(
                Severity.Warning,
                "empty",
                $"The decision table '{table.Name}' has no {(rules.Count == 0 ? "rules" : "outputs")} yet.",
                null,
                rules.Count == 0 ? "Add a rule." : "Add an output: what the rules give values to."
            );
            return found;
        }

        var cells = new List<List<Expression>>();
        foreach (var (_, rule) in rules)
        {
            var read = new List<Expression>();
            foreach (var (id, column) in columns)
                if (ConditionCell.Condition(column.Text, rule.When.GetValueOrDefault(id)) is { } text)
                {
                    // What cannot be read is told by the class; nothing follows from it here.
                    if (WrittenTexts.Condition(text) is not { } condition)
                        return found;
                    read.Add(condition);
                }

            cells.Add(read);
        }

        var isNever = Cover(rules, cells);
        Overlaps(rules, cells, isNever);
        Unused(columns);
        return found;
    }

    /// <summary>Tells rules that are never reached, and an example of what no rule covers.</summary>
    HashSet<int> Cover(List<KeyValuePair<string, RuleNode>> rules, List<List<Expression>> cells)
    {
        var never = new HashSet<int>();
        List<GuardDecision.Conjunction> left = [GuardDecision.Anything];
        for (var r = 0; r < rules.Count; r++)
        {
            WorkBudget.Current.Check();
            if (decision.CanHold(cells[r]) == false)
            {
                never.Add(r);
                Tell(
                    Severity.Warning,
                    "never",
                    $"Rule {r + 1} can never apply: its cells exclude each other.",
                    rules[r].Key,
                    "Look at what its cells ask: no value is in all of it."
                );
                continue;
            }

            var (rest, isReached) = Without(left, cells[r]);
            if (rest is null)
                return never;
            if (!isReached)
            {
                never.Add(r);
                Tell(
                    Severity.Warning,
                    "hidden",
                    $"Rule {r + 1} never applies: the rules before it cover all that it asks for.",
                    rules[r].Key,
                    "Let it come before them, or remove it."
                );
            }

            left = rest;
        }

        if (left.Count > 0)
            Tell(
                Severity.Information,
                "missing",
                $"No rule applies where {decision.Told(left[0])}; the outputs take the values of 'otherwise' there.",
                null,
                "Add a rule for it, or leave it to 'otherwise'."
            );
        return never;
    }

    /// <summary>What is left of sets of conditions behind a rule, and whether it took anything; null where that is too much to
    /// say.</summary>
    (List<GuardDecision.Conjunction>? Left, bool IsReached) Without(List<GuardDecision.Conjunction> sets, List<Expression> cells)
    {
        var (rest, isReached) = (new List<GuardDecision.Conjunction>(), false);
        foreach (var set in sets)
        {
            List<GuardDecision.Conjunction> inside = [set];
            foreach (var cell in cells)
            {
                var (holds, not) = (decision.Under(inside, cell, true), decision.Under(inside, cell, false));
                if (holds is null || not is null)
                    return (null, true);
                rest.AddRange(not);
                inside = holds;
            }

            isReached |= inside.Count > 0;
            if (rest.Count > MostLeft)
                return (null, true);
        }

        return (rest, isReached);
    }

    void Overlaps(List<KeyValuePair<string, RuleNode>> rules, List<List<Expression>> cells, HashSet<int> never)
    {
        var told = 0;
        for (var i = 0; i < rules.Count; i++)
        for (var j = i + 1; j < rules.Count && told < MostOverlaps; j++)
        {
            WorkBudget.Current.Check();
            // A last rule that asks for nothing is what the others leave.
            if (never.Contains(i) || never.Contains(j) || cells[j].Count == 0 || Same(rules[i].Value, rules[j].Value))
                continue;
            if (decision.CanHold(cells[i].Concat(cells[j])) == true)
            {
                told++;
                Tell(
                    Severity.Information,
                    "overlap",
                    $"Rules {i + 1} and {j + 1} can hold at once and say different things: rule {i + 1} goes first.",
                    rules[j].Key,
                    "Make their cells exclude each other, or leave it to the order.",
                    rules[i].Key
                );
            }
        }
    }

    bool Same(RuleNode a, RuleNode b) =>
        table.Outputs.All(o => (a.Then.GetValueOrDefault(o.Key) ?? "").Trim() == (b.Then.GetValueOrDefault(o.Key) ?? "").Trim());

    void Unused(List<KeyValuePair<string, ConditionNode>> columns)
    {
        foreach (var (id, column) in columns)
            if (table.Rules.Values.All(r => ConditionCell.Condition(column.Text, r.When.GetValueOrDefault(id)) is null))
                Tell(Severity.Information, "unused", $"No rule asks for '{column.Text}'.", id, "Fill in a cell, or remove the column.");
        foreach (var (id, output) in table.Outputs)
            if (table.Rules.Values.All(r => string.IsNullOrWhiteSpace(r.Then.GetValueOrDefault(id))))
                Tell(Severity.Information, "unset", $"No rule gives '{output.Name}' a value.", id, "Fill in a cell, or remove the output.");
    }
}
