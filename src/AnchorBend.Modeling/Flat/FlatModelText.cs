using System.Text;
using AnchorBend.Language.Terms;

namespace AnchorBend.Modeling.Flat;

/// <summary>Prints a flat model for people and golden tests.</summary>
public static class FlatModelText
{
    public static string Print(FlatModel model)
    {
        var text = new StringBuilder();
        text.Append("model ").AppendLine(model.Name);
        string Term(Term term) => TermText.Print(term, model.NameOf);
        foreach (var v in model.Variables.Skip(2))
        {
            text.Append("  ").Append(v.Role.ToString().ToLowerInvariant()).Append(' ').Append(v.Type).Append(' ').Append(v.Name);
            if (v.Unit is not null)
                text.Append(" [").Append(v.Unit.Symbol).Append(']');
            if (v.Binding is not null)
                text.Append(" = ").Append(Term(v.Binding));
            if (v.Start is not null)
                text.Append(" start ").Append(Term(v.Start));
            if (v.IsStructural)
                text.Append(" structural");
            text.AppendLine();
        }

        text.AppendLine("equations");
        foreach (var e in model.Equations)
            text.Append("  ").Append(Term(e.Left)).Append(" = ").AppendLine(Term(e.Right));
        foreach (var r in model.Reinits)
            text.Append("  when ")
                .Append(Term(r.Condition))
                .Append(" reinit ")
                .Append(model.NameOf(r.State))
                .Append(" = ")
                .AppendLine(Term(r.Value));
        foreach (var c in model.Clocks)
            text.Append("  clock ")
                .Append(model.NameOf(c.Flag))
                .Append(" at ")
                .Append(Term(c.Start))
                .Append(" every ")
                .AppendLine(Term(c.Interval));
        for (var i = 0; i < model.Delays.Count; i++)
            text.Append("  delayed#")
                .Append(i)
                .Append(" = ")
                .Append(model.NameOf(model.Delays[i].Source))
                .Append(" by ")
                .AppendLine(Term(model.Delays[i].Duration));
        return text.ToString();
    }
}
