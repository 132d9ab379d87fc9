using System.Text;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Tables;

/// <summary>Writes the class that a decision table comes to.</summary>
sealed class DecisionWriter(DecisionTable table)
{
    readonly StringBuilder text = new();
    readonly TextPlaces places = new();

    void Line(string line) => text.Append(line).Append('\n');

    public string Write()
    {
        var name = ExpressionText.Name(table.Name);
        var rules = table.Ordered.ToList();
        var columns = table.Columns.ToList();
        Line($"block {name}");
        var declarations = new NameDeclarations(table.Name, places, false);
        foreach (var line in declarations.Of(table.Names.Values.OrderBy(n => n.Order)))
            Line(line);
        for (var i = 1; i <= rules.Count; i++)
            Line($"Boolean 'rule {i}' \"Whether the rule applies\";");
        var declared = text.Length;
        Line("protected");
        Line("Integer 'its rule' \"The first rule that holds; 0 for none\";");
        Line("equation");
        var chosen = new StringBuilder();
        for (var i = 0; i < rules.Count; i++)
        {
            var cells = columns
                .Select(c =>
                    (Column: c.Value.Text, Condition: ConditionCell.Condition(c.Value.Text, rules[i].Value.When.GetValueOrDefault(c.Key)))
                )
                .Where(c => c.Condition is not null)
                .Select(c => places.Expression(c.Condition!, new($"Rule {i + 1}, {c.Column}", rules[i].Key), "time"))
                .ToList();
            chosen.Append($"{(i == 0 ? "if" : " elseif")} {(cells.Count == 0 ? "true" : string.Join(" and ", cells))} then {i + 1}");
        }

        Line($"'its rule' = {(chosen.Length == 0 ? "0" : $"{chosen} else 0")};");
        for (var i = 1; i <= rules.Count; i++)
            Line($"'rule {i}' = 'its rule' == {i};");
        foreach (var (id, output) in table.Outputs)
        {
            var value = new StringBuilder();
            for (var i = 0; i < rules.Count; i++)
                if (rules[i].Value.Then.GetValueOrDefault(id) is { } given && !string.IsNullOrWhiteSpace(given))
                    value.Append(
                        $"{(value.Length == 0 ? "if" : " elseif")} 'its rule' == {i + 1} then "
                            + places.Expression(given, new($"Rule {i + 1}, {output.Name}", rules[i].Key), "time")
                    );
            var otherwise = declarations.First(output);
            Line($"{ExpressionText.Name(output.Name)} = {(value.Length == 0 ? otherwise : $"{value} else {otherwise}")};");
        }

        Line($"end {name};");
        text.Insert(declared, places.Constants());
        return text.ToString();
    }
}
