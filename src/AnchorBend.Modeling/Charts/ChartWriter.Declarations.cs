using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Charts;

/// <summary>What the class declares.</summary>
sealed partial class ChartWriter
{
    void Declare()
    {
        foreach (var line in new NameDeclarations(chart.Name, places, true).Of(names))
            Line(line);
        if (IsSampled)
        {
            var period = TextPlaces.Seconds(chart.Period!, new("Period", null));
            Line($"parameter Real period(unit = \"s\", min = 0) = {period} \"Time between two looks\";");
        }

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

        foreach (var flag in (string[])["'its started'", "'its any'", "'goes on'", "'its endless'"])
            Line($"Boolean {flag}(start = false, fixed = true);");
        foreach (var number in (string[])["'its now'", "'its least'", "'its count'", "'its steps'", "'its micro'", "'its seen'"])
            Line($"Integer {number}(start = 0, fixed = true);");
        Line("Boolean 'its odd'; Boolean 'its even';");
    }
}
