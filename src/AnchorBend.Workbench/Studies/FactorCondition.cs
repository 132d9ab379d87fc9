using AnchorBend.Exploration;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Workbench.Studies;

/// <summary>What must hold between the factors of a row: a comparison of numbers, in the units that the factors were given in.</summary>
public sealed class FactorCondition
{
    readonly string text;
    readonly Expression condition;
    readonly Dictionary<string, int> places;

    FactorCondition(string text, Expression condition, Dictionary<string, int> places) =>
        (this.text, this.condition, this.places) = (text, condition, places);

    /// <exception cref="ExplorationException">It cannot be read, or speaks of something that is no factor.</exception>
    public static FactorCondition Parse(string text, IReadOnlyList<StudyFactor> factors)
    {
        var places = new Dictionary<string, int>();
        for (var i = 0; i < factors.Count; i++)
            (places[factors[i].Path], places[factors[i].Label]) = (i, i);
        try
        {
            var made = new FactorCondition(text, Parser.ParseField(text), places);
            foreach (var spoken in References.In(made.condition))
                if (!places.ContainsKey(spoken.Path))
                    throw Wrong(text, $"'{spoken.Path}' is no factor of this study");
            return made;
        }
        catch (LanguageException e)
        {
            throw Wrong(text, e.Error.Message);
        }
    }

    /// <exception cref="ExplorationException">A factor it speaks of has no number in this row, or it is no comparison.</exception>
    public bool Holds(StudyCell[] row) => Of(condition, row) is var value && value is 0 or 1 ? value == 1 : throw NoCondition();

    double Of(Expression of, StudyCell[] row) =>
        of switch
        {
            NumberLiteral n => n.Value,
            BooleanLiteral b => b.Value ? 1 : 0,
            Reference r => row[places[r.Path]].Number ?? throw Wrong(text, $"'{r.Path}' is not a number in every row"),
            Unary { Kind: UnaryKind.Minus, Operand: var operand } => -Of(operand, row),
            Unary { Kind: UnaryKind.Plus, Operand: var operand } => Of(operand, row),
            Unary { Kind: UnaryKind.Not, Operand: var operand } => 1 - Of(operand, row),
            Binary b => Of(b.Kind, Of(b.Left, row), Of(b.Right, row)),
            _ => throw NoCondition(),
        };

    double Of(BinaryKind kind, double a, double b) =>
        kind switch
        {
            BinaryKind.Add => a + b,
            BinaryKind.Subtract => a - b,
            BinaryKind.Multiply => a * b,
            BinaryKind.Divide => a / b,
            BinaryKind.Power => Math.Pow(a, b),
            BinaryKind.Less => a < b ? 1 : 0,
            BinaryKind.LessOrEqual => a <= b ? 1 : 0,
            BinaryKind.Greater => a > b ? 1 : 0,
            BinaryKind.GreaterOrEqual => a >= b ? 1 : 0,
            BinaryKind.Equal => a == b ? 1 : 0,
            BinaryKind.NotEqual => a != b ? 1 : 0,
            BinaryKind.And => a * b,
            BinaryKind.Or => Math.Max(a, b),
            _ => throw NoCondition(),
        };

    ExplorationException NoCondition() => Wrong(text, "a condition compares factors with + − × ÷ ^, and, or, not");

    static ExplorationException Wrong(string text, string why) =>
        new("condition", $"The condition '{text}' cannot be used: {why}.", "Write something like mass < 2*drag.");
}
