using AnchorBend.Compiler.Lowering;

namespace AnchorBend.Delivery;

/// <summary>Which places of memory a function reads before it has written them on every way to there, and which it reads and writes at
/// all.</summary>
sealed class PlaceUse
{
    /// <summary>Read before they are surely written: what has to be kept from one call to the next, or comes from elsewhere.</summary>
    public HashSet<int> First { get; } = [];

    public HashSet<int> Read { get; } = [];

    public HashSet<int> Written { get; } = [];

    /// <summary>How often each is written.</summary>
    public Dictionary<int, int> Writes { get; } = [];

    /// <summary>Whether relations are decided anew; otherwise their truth is read.</summary>
    readonly bool decides;

    /// <summary>What locals that hold a variable's value stand for.</summary>
    readonly Dictionary<(int Routine, int Local), int> stands = [];

    readonly Func<Test, bool?> decided;

    public PlaceUse(IReadOnlyList<(int Routine, Statement Statement)> body, bool decides, Func<Test, bool?> decided)
    {
        (this.decides, this.decided) = (decides, decided);
        var sure = new HashSet<int>();
        foreach (var (routine, statement) in body)
            Visit(routine, statement, sure);
    }

    void Visit(int routine, Statement statement, HashSet<int> sure)
    {
        switch (statement)
        {
            case StoreStatement s:
                Visit(routine, s.Value, sure);
                if (s.To.Space != Space.Memory)
                    return;
                if (s.Local >= 0)
                    stands[(routine, s.Local)] = s.To.Index;
                Write(s.To.Index, sure);
                return;
            case LocalStatement l:
                Visit(routine, l.Value, sure);
                return;
            case ResultStatement r:
                Visit(routine, r.Value, sure);
                return;
            case IfStatement i when decided(i.Condition) is { } known:
                foreach (var inner in known ? i.Then : i.Otherwise)
                    Visit(routine, inner, sure);
                return;
            case IfStatement i:
                Visit(routine, i.Condition, sure);
                var (then, otherwise) = (new HashSet<int>(sure), new HashSet<int>(sure));
                foreach (var inner in i.Then)
                    Visit(routine, inner, then);
                foreach (var inner in i.Otherwise)
                    Visit(routine, inner, otherwise);
                then.IntersectWith(otherwise);
                sure.UnionWith(then);
                return;
            case CopyStatement c:
                for (var k = 0; k < c.Count; k++)
                {
                    ReadAt(c.From + k, sure);
                    Write(c.To + k, sure);
                }

                return;
            case SolveStatement:
                return;
            default:
                throw new InvalidOperationException($"unknown statement {statement.GetType().Name}");
        }
    }

    void Write(int place, HashSet<int> sure)
    {
        sure.Add(place);
        Written.Add(place);
        Writes[place] = Writes.GetValueOrDefault(place) + 1;
    }

    void ReadAt(int place, HashSet<int> sure)
    {
        Read.Add(place);
        if (!sure.Contains(place))
            First.Add(place);
    }

    void Visit(int routine, Code code, HashSet<int> sure)
    {
        switch (code)
        {
            case PlaceCode { Space: Space.Memory } p:
                ReadAt(p.Index, sure);
                return;
            case LocalCode l when stands.TryGetValue((routine, l.Local), out var place):
                ReadAt(place, sure);
                return;
            case LetCode l:
                Visit(routine, l.Value, sure);
                return;
            case OperationCode o:
                Visit(routine, o.Left, sure);
                if (o.Right is { } right)
                    Visit(routine, right, sure);
                return;
            case PowerCode p:
                Visit(routine, p.Operand, sure);
                return;
            case ChooseCode c when decided(c.Condition) is { } known:
                Visit(routine, known ? c.Then : c.Otherwise, sure);
                return;
            case ChooseCode c:
                Visit(routine, c.Condition, sure);
                Visit(routine, c.Then, sure);
                Visit(routine, c.Otherwise, sure);
                return;
            case TruthCode t:
                Visit(routine, t.Condition, sure);
                return;
            case TableCode t:
                Visit(routine, t.Abscissa, sure);
                if (t.HeldAbscissa >= 0 && !decides)
                    ReadAt(t.HeldAbscissa, sure);
                return;
            default:
                return;
        }
    }

    void Visit(int routine, Test test, HashSet<int> sure)
    {
        if (decided(test) is not null)
            return;
        switch (test)
        {
            case NotTest n:
                Visit(routine, n.Operand, sure);
                return;
            case AndTest a:
                Visit(routine, a.Left, sure);
                Visit(routine, a.Right, sure);
                return;
            case OrTest o:
                Visit(routine, o.Left, sure);
                Visit(routine, o.Right, sure);
                return;
            case CompareTest c:
                Visit(routine, c.Left, sure);
                Visit(routine, c.Right, sure);
                return;
            case NonZeroTest z:
                Visit(routine, z.Value, sure);
                return;
            case HeldTest h when decides:
                Visit(routine, h.Anew, sure);
                return;
            case HeldTest h:
                ReadAt(h.Place, sure);
                return;
            default:
                throw new InvalidOperationException($"unknown test {test.GetType().Name}");
        }
    }
}
