using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Charts;

/// <summary>What the class declares.</summary>
sealed partial class ChartWriter
{
    void Declare()
    {
        var words = new Dictionary<string, int>();
        foreach (var node in names)
            Declare(node, words);
        foreach (var (word, number) in words)
            Line($"constant Integer {ExpressionText.Name(word)} = {number};");
        if (IsSampled)
            Line(
                $"parameter Real period(unit = \"s\", min = 0) = {ChartPlaces.Seconds(chart.Period!, "Period")} \"Time between two looks\";"
            );
        foreach (var state in tree.States)
            Line($"Boolean {In(state)}(start = false, fixed = true);");
        foreach (var taken in signals.Transitions.Values)
            Line($"Integer {ExpressionText.Name(taken)}(start = 0, fixed = true) \"How often it was taken\";");
        Line("protected");
        foreach (var state in tree.States)
            Line($"discrete Real {Since(state)}(start = 0, fixed = true);");
        foreach (var owner in Owners)
        {
            Line($"Boolean {Quoted("had", owner)}(start = false, fixed = true);");
            foreach (var state in tree.Within(owner))
                Line($"Boolean {Was(owner, state)}(start = false, fixed = true);");
        }

        foreach (var done in tree.States.Where(WaitsForDone))
            Line($"Boolean {Done(done)}(start = false, fixed = true);");
        for (var b = 0; b < tree.Branches.Count; b++)
        {
            Line($"Boolean {Of("may", b)}(start = false, fixed = true);");
            Line($"Boolean {Of("taken", b)}(start = false, fixed = true);");
            if (tree.Branches[b].First.HeldFor is not null)
                Line($"discrete Real {Of("held", b)}(start = 0, fixed = true); Boolean {Of("kept", b)}(start = false, fixed = true);");
            if (tree.Branches[b].First.Every is not null)
                Line($"discrete Real {Of("last", b)}(start = 0, fixed = true);");
        }

        foreach (var e in Enumerable.Range(1, raised.Count))
            Line($"Integer 'queue {e}'(start = 0, fixed = true);");
        foreach (var e in Enumerable.Range(1, inputs.Count))
        {
            Line($"Boolean 'came {e}'(start = false, fixed = true);");
            Line($"Integer 'before {e}'(start = 0, fixed = true); Integer 'rises {e}'(start = 0, fixed = true);");
        }

        foreach (var flag in (string[])["'its started'", "'its free'", "'goes on'", "'its endless'"])
            Line($"Boolean {flag}(start = false, fixed = true);");
        foreach (var number in (string[])["'its now'", "'its least'", "'its count'", "'its steps'", "'its micro'", "'its seen'"])
            Line($"Integer {number}(start = 0, fixed = true);");
        Line("Boolean 'its odd'; Boolean 'its even';");
    }

    void Declare(ChartNameNode node, Dictionary<string, int> words)
    {
        var type = node.Type.Trim();
        if (type.StartsWith('{'))
        {
            var listed = type.Trim('{', '}').Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
            for (var i = 0; i < listed.Length; i++)
                if (!words.TryAdd(listed[i], i + 1) && words[listed[i]] != i + 1)
                    throw new DocumentException($"'{listed[i]}' stands at two places in lists of words of '{chart.Name}'.");
            type = "Integer";
        }

        if (node.Kind is ChartNameKind.Event or ChartNameKind.Signal)
            type = "Boolean";
        if (type is not ("Real" or "Integer" or "Boolean"))
            throw new DocumentException($"'{node.Name}' of '{chart.Name}' is Real, Integer, Boolean, or words in braces.");
        var first = node.Start
            ?? (
                type == "Boolean" ? "false"
                : node.Type.Trim().StartsWith('{') ? "1"
                : "0"
            );
        var value = places.Condition(first, $"Start of {node.Name}", "time");
        var unit = type == "Real" && node.Unit is { Length: > 0 } u ? $"unit = \"{u.Replace("\"", "", StringComparison.Ordinal)}\"" : "";
        var note = node.Description is { Length: > 0 } d
            ? $" \"{d.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal)}\""
            : "";
        var name = ExpressionText.Name(node.Name);
        string Attributes(params string[] more) =>
            string.Join(", ", more.Append(unit).Where(a => a.Length > 0)) is { Length: > 0 } all ? $"({all})" : "";
        var discrete = type == "Real" ? "discrete " : "";
        Line(
            node.Kind switch
            {
                ChartNameKind.Input or ChartNameKind.Event => $"input {type} {name}{Attributes()}{note};",
                ChartNameKind.Parameter => $"parameter {type} {name}{Attributes()} = {value}{note};",
                ChartNameKind.Output => $"output {type} {name}{Attributes($"start = {value}", "fixed = true")}{note};",
                _ => $"{discrete}{type} {name}{Attributes($"start = {value}", "fixed = true")}{note};",
            }
        );
    }
}
