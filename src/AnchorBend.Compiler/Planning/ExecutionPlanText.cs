using System.Text;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Planning;

/// <summary>Prints a plan for people and golden tests.</summary>
public static class ExecutionPlanText
{
    public static string Print(ExecutionPlan plan)
    {
        var text = new StringBuilder();
        string Term(Term t) => TermText.Print(t, plan.Model.NameOf);
        text.AppendLine(("states: " + string.Join(", ", plan.States.Select(plan.Model.NameOf))).TrimEnd());
        foreach (var block in plan.Blocks)
        {
            var mark = block.Class switch
            {
                BlockClass.Dynamic => "  ",
                BlockClass.Output => "o ",
                _ => "e ",
            };
            switch (block)
            {
                case AssignmentBlock a:
                    text.Append(mark).Append(plan.Model.NameOf(a.Variable)).Append(" := ").AppendLine(Term(a.Value));
                    break;
                case LoopBlock l:
                    text.Append(mark)
                        .Append(l.IsLinear ? "linear loop over " : "loop over ")
                        .AppendLine(string.Join(", ", l.Torn.Select(plan.Model.NameOf)));
                    foreach (var inner in l.Inner)
                        text.Append("    ").Append(plan.Model.NameOf(inner.Variable)).Append(" := ").AppendLine(Term(inner.Value));
                    foreach (var residual in l.Residuals)
                        text.Append("    0 = ").AppendLine(Term(residual));
                    break;
            }
        }

        foreach (var relation in plan.Relations)
            text.Append(relation.Kind.ToString().ToLowerInvariant()).Append(" relation ").AppendLine(Term(relation.Term));
        return text.ToString();
    }
}
