using AnchorBend.Compiler.Lowering;
using AnchorBend.Language;
using AnchorBend.Language.Terms;

namespace AnchorBend.Delivery;

/// <summary>
/// Puts values that are known before the code runs, inputs and parameters in the place of variables that only pass them on, and leaves
/// out branches that are never taken. Nothing is computed otherwise than before, but that adding nought is left out.
/// </summary>
/// <param name="isGiven">Whether a place of memory is an input or a parameter.</param>
sealed class CodeFolding(Func<int, bool> isGiven, Func<Code, double?> known, Func<Test, bool?> decided)
{
    readonly Func<Test, bool?> decided = decided;

    readonly Dictionary<int, Code> places = [];
    readonly Dictionary<(int Routine, int Local), Code> locals = [];

    /// <summary>Folds statements in the order in which they run.</summary>
    /// <param name="isKept">Places that others than these statements write or that are written more than once.</param>
    public CBody Fold(CBody body, Func<int, bool> isKept)
    {
        var result = new List<(int, Statement)>();
        foreach (var (routine, statement) in body.Statements)
        {
            WorkBudget.Current.Check();
            foreach (var folded in Fold(routine, statement, isKept))
                result.Add((routine, folded));
        }

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

    Code Fold(int routine, Code code) => new InRoutine(this, routine).Of(code);

    Test Fold(int routine, Test test) => new InRoutine(this, routine).Of(test);

    sealed class InRoutine(CodeFolding folding, int routine) : CodeRewriting
    {
        public override Code Of(Code code)
        {
            switch (code)
            {
                case PlaceCode { Space: Space.Memory } p when folding.places.TryGetValue(p.Index, out var passed):
                    return passed;
                case LocalCode l when folding.locals.TryGetValue((routine, l.Local), out var passed):
                    return passed;
                case LetCode l:
                    var value = Of(l.Value);
                    if (folding.Passed(value) is not { } given)
                        return l with { Value = value };
                    folding.locals[(routine, l.Local)] = given;
                    return given;
                case OperationCode { Kind: Operator.Add or Operator.Subtract } o:
                    var (left, right) = (Of(o.Left), Of(o.Right!));
                    return right is NumberCode { Value: 0 } ? left
                        : left is NumberCode { Value: 0 } && o.Kind == Operator.Add ? right
                        : o with { Left = left, Right = right };
                case ChooseCode c when Of(c.Condition) is var test:
                    return folding.decided(test) is { } holds
                        ? Of(holds ? c.Then : c.Otherwise)
                        : c with
                        {
                            Condition = test,
                            Then = Of(c.Then),
                            Otherwise = Of(c.Otherwise),
                        };
                default:
                    return base.Of(code);
            }
        }

        public override Test Of(Test test)
        {
            if (folding.decided(test) is { } known)
                return new NonZeroTest(new NumberCode(known ? 1 : 0));
            return base.Of(test) switch
            {
                AndTest a when folding.decided(a.Left) == true => a.Right,
                AndTest a when folding.decided(a.Right) == true => a.Left,
                OrTest o when folding.decided(o.Left) == false => o.Right,
                OrTest o when folding.decided(o.Right) == false => o.Left,
                var folded => folded,
            };
        }
    }
}
