using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Tests;

/// <summary>Runs routines by walking them: a second reading of what lowered code means, for models without loops and delays.</summary>
sealed class LoweredInterpreter(double time, double[] states, double[] derivatives, double[] memory, int mode)
{
    double[] locals = [];
    double[] result = [];
    int noted;

    public void Run(Routine routine, double[]? into = null)
    {
        (locals, result) = (new double[routine.Locals], into ?? []);
        foreach (var statement in routine.Body)
            Run(statement);
    }

    double[] In(Space space) =>
        space switch
        {
            Space.States => states,
            Space.Derivatives => derivatives,
            _ => memory,
        };

    void Run(Statement statement)
    {
        switch (statement)
        {
            case StoreStatement s:
                var value = Value(s.Value);
                In(s.To.Space)[s.To.Index] = value;
                if (s.Local >= 0)
                    locals[s.Local] = value;
                break;
            case LocalStatement l:
                locals[l.Local] = Value(l.Value);
                break;
            case ResultStatement r:
                result[r.Index] = Value(r.Value);
                break;
            case GuardStatement g:
                if (mode >= g.LeastMode)
                    foreach (var inner in g.Body)
                        Run(inner);
                break;
            case IfStatement i:
                foreach (var inner in Holds(i.Condition) ? i.Then : i.Otherwise)
                    Run(inner);
                break;
            case CountStatement c:
                memory[c.Place]++;
                break;
            case CopyStatement c:
                Array.Copy(memory, c.From, memory, c.To, c.Count);
                break;
            default:
                throw new NotSupportedException(statement.ToString());
        }
    }

    double Value(Code code)
    {
        switch (code)
        {
            case NumberCode n:
                return n.Value;
            case PlaceCode p:
                return In(p.Space)[p.Index];
            case TimeCode:
                return time;
            case LocalCode l:
                return locals[l.Local];
            case LetCode l:
                return locals[l.Local] = Value(l.Value);
            case OperationCode o:
                return TermEvaluator.Apply(o.Kind, Value(o.Left), o.Right is null ? 0 : Value(o.Right));
            case PowerCode p:
                return TermEvaluator.Power(Value(p.Operand), p.Exponent);
            case ChooseCode c:
                return Holds(c.Condition) ? Value(c.Then) : Value(c.Otherwise);
            case TruthCode t:
                return Holds(t.Condition) ? 1 : 0;
            default:
                throw new NotSupportedException(code.ToString());
        }
    }

    bool Holds(Test test)
    {
        switch (test)
        {
            case CompareTest c:
                return TermEvaluator.Apply(c.Kind, Value(c.Left), Value(c.Right)) != 0;
            case NotTest n:
                return !Holds(n.Operand);
            case AndTest a:
                return Holds(a.Left) && Holds(a.Right);
            case OrTest o:
                return Holds(o.Left) || Holds(o.Right);
            case CountedTest t:
                var holds = Holds(t.Operand);
                memory[holds ? t.Place + 1 : t.Place]++;
                if (t.CountsTurns)
                {
                    var (before, now) = (memory[t.Place + 2], holds ? 2 : 1);
                    if (before == 3 - now)
                        memory[t.Place + 2 + now]++;
                    memory[t.Place + 2] = now;
                }

                return holds;
            case VectorTest v:
                var outer = noted;
                noted = 0;
                holds = Holds(v.Operand);
                memory[v.Place + 2 * noted + (holds ? 1 : 0)]++;
                noted = outer;
                return holds;
            case NotedTest n:
                outer = noted;
                holds = Holds(n.Operand);
                noted = outer + (holds ? 2 : 1) * n.Weight;
                return holds;
            case NonZeroTest z:
                return Value(z.Value) != 0;
            case HeldTest h:
                if (mode == Emission.EvaluationMode.Event)
                    memory[h.Place] = Holds(h.Anew) ? 1 : 0;
                return memory[h.Place] != 0;
            default:
                throw new NotSupportedException(test.ToString());
        }
    }
}
