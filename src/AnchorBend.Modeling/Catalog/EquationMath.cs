using System.Globalization;
using System.Text;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Catalog;

/// <summary>Typesets equations and expressions as LaTeX mathematics.</summary>
public static class EquationMath
{
    static readonly Dictionary<string, string> Greek = new(StringComparer.Ordinal)
    {
        ["alpha"] = @"\alpha",
        ["beta"] = @"\beta",
        ["gamma"] = @"\gamma",
        ["delta"] = @"\delta",
        ["zeta"] = @"\zeta",
        ["eta"] = @"\eta",
        ["theta"] = @"\theta",
        ["lambda"] = @"\lambda",
        ["mu"] = @"\mu",
        ["rho"] = @"\rho",
        ["sigma"] = @"\sigma",
        ["tau"] = @"\tau",
        ["phi"] = @"\varphi",
        ["psi"] = @"\psi",
        ["omega"] = @"\omega",
        ["pi"] = @"\pi",
        ["w"] = "w",
    };

    public static string Print(Equation equation) =>
        equation switch
        {
            EqualEquation e => $"{Print(e.Left)} = {Print(e.Right)}",
            ForEquation f => string.Join(@"\quad ", f.Body.Select(e => Print(e)))
                + @",\;"
                + string.Join(", ", f.Iterators.Select(i => $"{Name(i.Name)} = {Range(i.Range)}")),
            IfEquation i => Cases(
                i.Branches.Select(b => (Body(b.Body), Print(b.Condition))).Append((Body(i.Otherwise), @"\text{otherwise}"))
            ),
            WhenEquation w => string.Join(@"\;", w.Branches.Select(b => $@"\text{{when }} {Print(b.Condition)}:\; {Body(b.Body)}")),
            ConnectEquation c => $@"{Print(c.First)} \leftrightarrow {Print(c.Second)}",
            CallEquation c => Print(c.Call),
            _ => "",
        };

    public static string Print(Expression expression) => Print(expression, 0);

    /// <summary>The statements of an algorithm, a line each.</summary>
    public static IEnumerable<string> Lines(IReadOnlyList<Statement> statements) =>
        statements.Select(s =>
            s switch
            {
                AssignStatement a => $"{Print(a.Target)} := {Print(a.Value)}",
                AssignManyStatement m => $@"({string.Join(@",\;", m.Targets.Select(t => t is null ? "" : Print(t)))}) := {Print(m.Call)}",
                IfStatement i => Cases(
                    i.Branches.Select(b => (Joined(b.Body), Print(b.Condition))).Append((Joined(i.Otherwise), @"\text{otherwise}"))
                ),
                ForStatement f => @"\text{for } "
                    + string.Join(", ", f.Iterators.Select(i => $"{Name(i.Name)} = {Range(i.Range)}"))
                    + $@":\; {Joined(f.Body)}",
                WhileStatement w => $@"\text{{while }} {Print(w.Condition)}:\; {Joined(w.Body)}",
                WhenStatement w => string.Join(@"\;", w.Branches.Select(b => $@"\text{{when }} {Print(b.Condition)}:\; {Joined(b.Body)}")),
                CallStatement c => Print(c.Call),
                BreakStatement => @"\text{break}",
                _ => @"\text{return}",
            }
        );

    static string Joined(IReadOnlyList<Statement> body) => string.Join(@",\; ", Lines(body));

    static string Body(IReadOnlyList<Equation> body) => string.Join(@",\; ", body.Select(e => Print(e)));

    static string Range(Expression range) => range is RangeExpression r ? $@"{Print(r.First)} \ldots {Print(r.Last)}" : Print(range);

    static string Cases(IEnumerable<(string Value, string Condition)> rows) =>
        @"\begin{cases}" + string.Join(@"\\", rows.Select(r => $@"{r.Value} & {r.Condition}")) + @"\end{cases}";

    static string Print(Expression expression, int context)
    {
        switch (expression)
        {
            case NumberLiteral n:
                var text = n.Value.ToString("G12", CultureInfo.InvariantCulture);
                var e = text.IndexOf('E', StringComparison.Ordinal);
                return e < 0 ? text : $@"{text[..e]}\cdot 10^{{{int.Parse(text[(e + 1)..], CultureInfo.InvariantCulture)}}}";
            case BooleanLiteral b:
                return $@"\text{{{(b.Value ? "true" : "false")}}}";
            case StringLiteral s:
                return $@"\text{{{s.Value}}}";
            case Reference r:
                return string.Join(
                    '.',
                    r.Parts.Select(p =>
                        Name(p.Name) + (p.Subscripts.Count == 0 ? "" : $"_{{{string.Join(",", p.Subscripts.Select(e => Print(e)))}}}")
                    )
                );
            case Unary { Kind: UnaryKind.Not } u:
                return @"\neg " + Print(u.Operand, 7);
            case Unary u:
                return Bracket((u.Kind == UnaryKind.Minus ? "-" : "") + Print(u.Operand, 6), context > 5);
            case Binary b:
                return PrintBinary(b, context);
            case Conditional c:
                return Cases(
                    c.Branches.Select(x => (Print(x.Value), @"\text{if } " + Print(x.Condition)))
                        .Append((Print(c.Otherwise), @"\text{otherwise}"))
                );
            case Call c:
                return PrintCall(c);
            case ArrayLiteral a:
                return @"\left[" + string.Join(@",\,", a.Elements.Select(e => Print(e))) + @"\right]";
            case MatrixLiteral m:
                return @"\begin{bmatrix}"
                    + string.Join(@"\\", m.Rows.Select(row => string.Join(" & ", row.Select(e => Print(e)))))
                    + @"\end{bmatrix}";
            case RangeExpression r:
                return Print(r.First, 5) + @"\ldots " + Print(r.Last, 5);
            case Comprehension c:
                return Print(c.Element) + @"\big|_{" + string.Join(", ", c.Iterators.Select(i => $"{Name(i.Name)}={Range(i.Range)}")) + "}";
            case EndOfDimension:
                return "n";
            case Quantity q:
                return Print(q.Value, 6) + $@"\,\mathrm{{{q.Unit.Symbol}}}";
            default:
                return ":";
        }
    }

    static string PrintBinary(Binary b, int context)
    {
        var level = ExpressionText.Precedence(b.Kind);
        switch (b.Kind)
        {
            case BinaryKind.Divide or BinaryKind.ElementDivide:
                return $@"\frac{{{Print(b.Left)}}}{{{Print(b.Right)}}}";
            case BinaryKind.Power or BinaryKind.ElementPower:
                return $"{Print(b.Left, 9)}^{{{Print(b.Right)}}}";
        }

        var symbol = b.Kind switch
        {
            BinaryKind.Add or BinaryKind.ElementAdd => " + ",
            BinaryKind.Subtract or BinaryKind.ElementSubtract => " - ",
            BinaryKind.Multiply or BinaryKind.ElementMultiply => b.Right is NumberLiteral ? @" \cdot " : @"\, ",
            BinaryKind.Equal => " = ",
            BinaryKind.NotEqual => @" \neq ",
            BinaryKind.Less => " < ",
            BinaryKind.LessOrEqual => @" \le ",
            BinaryKind.Greater => " > ",
            BinaryKind.GreaterOrEqual => @" \ge ",
            BinaryKind.And => @" \wedge ",
            _ => @" \vee ",
        };
        return Bracket(Print(b.Left, level) + symbol + Print(b.Right, level + 1), context > level);
    }

    static string PrintCall(Call c)
    {
        var arguments = string.Join(@",\,", c.Arguments.Select(e => Print(e)));
        switch (c.Function)
        {
            case "der":
                return c.Arguments[0] is Reference ? $@"\dot{{{arguments}}}" : $@"\frac{{d}}{{dt}}\left({arguments}\right)";
            case "sqrt":
                return $@"\sqrt{{{arguments}}}";
            case "abs":
                return $@"\left|{arguments}\right|";
            case "noEvent" or "smooth":
                return Print(c.Arguments[^1], 6);
            case "pre":
                return $"{arguments}^{{-}}";
            case "sin" or "cos" or "tan" or "exp" or "min" or "max" or "sinh" or "cosh" or "tanh":
                return $@"\{c.Function}\left({arguments}\right)";
            case "log":
                return $@"\ln\left({arguments}\right)";
            default:
                return $@"\operatorname{{{c.Function}}}\left({arguments}\right)";
        }
    }

    static string Bracket(string text, bool needed) => needed ? $@"\left({text}\right)" : text;

    /// <summary>A name as mathematics: Greek letters by name, everything behind the first letter or a stroke as a subscript.</summary>
    public static string Name(string name)
    {
        if (Greek.TryGetValue(name, out var greek))
            return greek;
        if (name.Length == 1)
            return name;
        var stroke = name.IndexOf('_', StringComparison.Ordinal);
        if (stroke > 0)
            return $"{Name(name[..stroke])}_{{\\mathrm{{{name[(stroke + 1)..].Replace('_', ' ')}}}}}";
        if (
            char.IsLetter(name[0])
            && name.Length <= 4
            && (char.IsUpper(name[1]) || char.IsDigit(name[1]) || char.IsUpper(name[0]) || name.Length == 2)
        )
            return $"{name[0]}_{{\\mathrm{{{name[1..]}}}}}";
        return $@"\mathit{{{name.Replace(" ", @"\ ", StringComparison.Ordinal)}}}";
    }
}
