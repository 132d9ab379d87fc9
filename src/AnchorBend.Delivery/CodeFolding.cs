using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;

namespace AnchorBend.Delivery;

/// <summary>
/// Puts values that are known before the code runs, inputs and parameters in the place of variables that only pass them on, and leaves
/// out branches that are never taken. Nothing is computed otherwise than before, but that adding nought is left out.
/// </summary>
/// <param name="isGiven">Whether a place of memory is an input or a parameter.</param>
sealed class CodeFolding(Func<int, bool> isGiven, Func<Code, double?> known, Func<Test, bool?> decided)
{
    readonly Dictionary<int, Code> places = [];
    readonly Dictionary<(int Routine, int Local), Code> locals = [];

    /// <summary>Folds statements in the order in which they run.</summary>
    /// <param name="isKept">Places that others than these statements write or that are written more than once.</param>
    public CBody Fold(CBody body, Func<int, bool> isKept)
    {
        var result = new List<(int, Statement)>();
        foreach (var (routine, statement) in body.Statements)
        foreach (var folded in Fold(routine, statement, isKept))
            result.Add((routine, folded));
        return new CBody(result);
    }

    IEnumerable<Statement> Fold(int routine, Statement statement, Func<int, bool> isKept)
    {
        switch (statement)
        {
            case StoreStatement { To.Space: Space.Memory } s:
                var value = Fold(routine, s.Value);
                if (!isKept(s.To.Index) && Passed(value) is { } passed)
                {
                    places[s.To.Index] = passed;
                    if (s.Local >= 0)
                        locals[(routine, s.Local)] = passed;
                    yield break;
                }

                yield return s with
                {
                    Value = value,
                };
                yield break;
            case StoreStatement s:
                yield return s with
                {
                    Value = Fold(routine, s.Value),
                };
                yield break;
            case LocalStatement l:
                var set = Fold(routine, l.Value);
                if (Passed(set) is { } given)
                    locals[(routine, l.Local)] = given;
                else
                    yield return l with
                    {
                        Value = set,
                    };
                yield break;
            case ResultStatement r:
                yield return r with
                {
                    Value = Fold(routine, r.Value),
                };
                yield break;
            case IfStatement i:
                var test = Fold(routine, i.Condition);
                if (decided(test) is { } holds)
                {
                    foreach (var inner in holds ? i.Then : i.Otherwise)
                    foreach (var folded in Fold(routine, inner, isKept))
                        yield return folded;
                    yield break;
                }

                // What is set in a branch is not known behind it.
                yield return i with
                {
                    Condition = test,
                    Then = [.. i.Then.SelectMany(inner => Fold(routine, inner, _ => true))],
                    Otherwise = [.. i.Otherwise.SelectMany(inner => Fold(routine, inner, _ => true))],
                };
                yield break;
            default:
                yield return statement;
                yield break;
        }
    }

    /// <summary>What a variable that only passes a value on stands for; null for one that computes.</summary>
    Code? Passed(Code value) =>
        value switch
        {
            NumberCode => value,
            PlaceCode { Space: Space.Memory } p when isGiven(p.Index) => known(p) is { } number ? new NumberCode(number) : p,
            TruthCode t when decided(t.Condition) is { } holds => new NumberCode(holds ? 1 : 0),
            OperationCode { Kind: Operator.Negate } o when Passed(o.Left) is NumberCode n => new NumberCode(-n.Value),
            _ => null,
        };

    Code Fold(int routine, Code code)
    {
        Code Of(Code inner) => Fold(routine, inner);
        switch (code)
        {
            case PlaceCode { Space: Space.Memory } p when places.TryGetValue(p.Index, out var passed):
                return passed;
            case LocalCode l when locals.TryGetValue((routine, l.Local), out var passed):
                return passed;
            case LetCode l:
                var value = Of(l.Value);
                if (Passed(value) is not { } given)
                    return l with { Value = value };
                locals[(routine, l.Local)] = given;
                return given;
            case OperationCode { Kind: Operator.Add or Operator.Subtract } o:
                var (left, right) = (Of(o.Left), Of(o.Right!));
                return right is NumberCode { Value: 0 } ? left
                    : left is NumberCode { Value: 0 } && o.Kind == Operator.Add ? right
                    : o with { Left = left, Right = right };
            case OperationCode o:
                return o with { Left = Of(o.Left), Right = o.Right is { } second ? Of(second) : null };
            case PowerCode p:
                return p with { Operand = Of(p.Operand) };
            case ChooseCode c:
                var test = Fold(routine, c.Condition);
                return decided(test) is { } holds
                    ? Of(holds ? c.Then : c.Otherwise)
                    : c with
                    {
                        Condition = test,
                        Then = Of(c.Then),
                        Otherwise = Of(c.Otherwise),
                    };
            case TruthCode t:
                return t with { Condition = Fold(routine, t.Condition) };
            case TableCode t:
                return t with { Abscissa = Of(t.Abscissa) };
            default:
                return code;
        }
    }

    Test Fold(int routine, Test test) =>
        test switch
        {
            NotTest n => n with { Operand = Fold(routine, n.Operand) },
            AndTest a => a with { Left = Fold(routine, a.Left), Right = Fold(routine, a.Right) },
            OrTest o => o with { Left = Fold(routine, o.Left), Right = Fold(routine, o.Right) },
            CompareTest c => c with { Left = Fold(routine, c.Left), Right = Fold(routine, c.Right) },
            NonZeroTest z => z with { Value = Fold(routine, z.Value) },
            HeldTest h => h with { Anew = Fold(routine, h.Anew) },
            _ => test,
        };
}
