using System.Text;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Preparation;

/// <summary>
/// What each pass of the compilation made, as text: a fault is found by comparing two of them. Where nobody keeps a log, nothing is
/// printed.
/// </summary>
public sealed class PassLog
{
    readonly List<(string Pass, string Text)> entries = [];

    /// <summary>Passes in the order in which they ran, each with its result.</summary>
    public IReadOnlyList<(string Pass, string Text)> Entries => entries;

    internal void Add(string pass, string text) => entries.Add((pass, text.ReplaceLineEndings("\n").TrimEnd() + "\n"));

    internal void Equations(
        string pass,
        FlatModel model,
        IReadOnlyList<(Term Left, Term Right, string Owner, Position At)> equations,
        int[] representative
    )
    {
        var text = new StringBuilder();
        foreach (var variable in model.Variables.Where(v => representative[v.Index] != v.Index))
            text.Append(variable.Name).Append(" is ").AppendLine(model.NameOf(representative[variable.Index]));
        foreach (var (left, right, _, _) in equations)
            text.Append(TermText.Print(left, model.NameOf)).Append(" = ").AppendLine(TermText.Print(right, model.NameOf));
        Add(pass, text.ToString());
    }
}
