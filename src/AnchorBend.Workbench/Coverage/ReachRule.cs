using System.Globalization;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Workbench.Coverage;

/// <summary>
/// What a run must come to so that something is seen of which no case came by: a state as rules speak of it, in names of the whole model.
/// </summary>
static class ReachRule
{
    /// <param name="owner">Path of the instance in whose text the condition stands.</param>
    /// <param name="holds">Whether it is to hold, or not to.</param>
    /// <returns>Null for what speaks of more than signals at one instant.</returns>
    public static string? Of(Expression? condition, string owner, bool holds) =>
        Qualified(condition, owner) is { } q ? ExpressionText.Print(holds ? q : Not(q)) : null;

    /// <summary>It comes to hold, having not held before; or the other way round.</summary>
    public static string? Turn(Expression? condition, string owner, bool holds) =>
        Qualified(condition, owner) is { } q ? Then(holds ? Not(q) : q, holds ? q : Not(q)) : null;

    /// <summary>A table is read between two knots.</summary>
    public static string? Between(Expression? table, string owner, double from, double to) =>
        table is Call { Arguments: [var abscissa, ..] } && Qualified(abscissa, owner) is { } q
            ? string.Create(CultureInfo.InvariantCulture, $"{Print(q)} > {from:R} and {Print(q)} < {to:R}")
            : null;

    /// <summary>A local truth of an instance holds.</summary>
    public static string Held(string owner, string local) => ExpressionText.Print(Named(owner, local));

    /// <summary>A local counter of an instance is above zero.</summary>
    public static string Counted(string owner, string local) => Held(owner, local) + " > 0";

    static string Then(Expression before, Expression after) =>
        $"({ExpressionText.Print(before)}) and (eventually ({ExpressionText.Print(after)}))";

    static string Print(Expression expression) =>
        expression is Reference ? ExpressionText.Print(expression) : $"({ExpressionText.Print(expression)})";

    static Unary Not(Expression expression) => new(UnaryKind.Not, expression, default);

    static Reference Named(string owner, string local) =>
        new([.. owner.Split('.', StringSplitOptions.RemoveEmptyEntries).Append(local).Select(n => new ReferencePart(n, []))], default);

    static Expression? Qualified(Expression? expression, string owner)
    {
        switch (expression)
        {
            case NumberLiteral or BooleanLiteral or Quantity:
                return expression;
            case Reference { Path: "time" }:
                return expression;
            case Reference r when r.Parts.All(p => p.Subscripts.All(s => s is NumberLiteral)):
                return new Reference(
                    [.. owner.Split('.', StringSplitOptions.RemoveEmptyEntries).Select(n => new ReferencePart(n, [])), .. r.Parts],
                    r.At
                );
            case Unary u:
                return Qualified(u.Operand, owner) is { } operand ? u with { Operand = operand } : null;
            case Binary b:
                return Qualified(b.Left, owner) is { } left && Qualified(b.Right, owner) is { } right
                    ? b with
                    {
                        Left = left,
                        Right = right,
                    }
                    : null;
            case Call { Named.Count: 0, Function: "abs" or "sqrt" or "min" or "max" or "sin" or "cos" or "exp" } c:
                var arguments = c.Arguments.Select(a => Qualified(a, owner)).ToList();
                return arguments.TrueForAll(a => a is not null) ? c with { Arguments = [.. arguments.OfType<Expression>()] } : null;
            default:
                return null;
        }
    }
}
