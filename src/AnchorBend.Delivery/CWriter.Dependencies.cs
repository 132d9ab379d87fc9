using AnchorBend.Compiler.Lowering;
using AnchorBend.Language;

namespace AnchorBend.Delivery;

/// <summary>What values depend on within one instant.</summary>
/// <param name="Inputs">By their places among the inputs, and <paramref name="States"/> among those that are integrated.</param>
sealed record Depends(IReadOnlySet<int> Inputs, IReadOnlySet<int> States);

public sealed partial class CWriter
{
    /// <summary>Inputs that show in each output at once.</summary>
    internal static IReadOnlyList<Depends> Direct(CodeUnit unit)
    {
        var writer = new CWriter(unit);
        return writer.OfOutputs(writer.Walk(writer.functions.Evaluate, !writer.once));
    }

    IReadOnlyList<Depends> OfOutputs(Dictionary<PlaceCode, HashSet<PlaceCode>> known) =>
        [.. places.Outputs.Select(o => Told(known, PlaceOf(unit.Plan.Representative[o.Port.Variable.Index])))];

    IReadOnlyList<Depends> OfSlopes(Dictionary<PlaceCode, HashSet<PlaceCode>> known) =>
        [.. States.Select(s => Told(known, new PlaceCode(Space.Derivatives, s)))];

    PlaceCode PlaceOf(int variable) =>
        SpaceOf(variable) switch
        {
            Space.States => new PlaceCode(Space.States, unit.Plan.StateSlot[variable]),
            Space.Derivatives => new PlaceCode(Space.Derivatives, unit.Plan.DerivativeSlot[variable]),
            _ => new PlaceCode(Space.Memory, variable),
        };

    Depends Told(Dictionary<PlaceCode, HashSet<PlaceCode>> known, PlaceCode place)
    {
        var on = On(known, place);
        var inputs = unit.Inputs.Select(i => i.Variable.Index).ToList();
        var states = States.ToList();
        return new Depends(
            on.Where(p => p.Space == Space.Memory).Select(p => inputs.IndexOf(p.Index)).ToHashSet(),
            on.Where(p => p.Space == Space.States).Select(p => states.IndexOf(p.Index)).Where(s => s >= 0).ToHashSet()
        );
    }

    /// <summary>Inputs and states are what they are; the rest is what it was made of, if it was made already.</summary>
    HashSet<PlaceCode> On(Dictionary<PlaceCode, HashSet<PlaceCode>> known, PlaceCode place) =>
        known.TryGetValue(place, out var of) ? of
        : place.Space == Space.States || place.Space == Space.Memory && places.IsInput(place.Index) ? [place]
        : [];

    /// <summary>Follows a body from statement to statement.</summary>
    /// <param name="again">Whether it is evaluated until nothing changes, so that what was decided before leads on.</param>
    Dictionary<PlaceCode, HashSet<PlaceCode>> Walk(CBody body, bool again)
    {
        Dictionary<PlaceCode, HashSet<PlaceCode>> known = [];
        Dictionary<(int, int), HashSet<PlaceCode>> locals = [];
        int before;
        do
        {
            before = known.Values.Sum(v => v.Count);
            foreach (var (routine, statement) in body.Statements)
            {
                WorkBudget.Current.Check();
                Visit(routine, statement, []);
            }

            for (var d = 0; again && d < unit.Plan.Discretes.Length; d++)
                Add(new PlaceCode(Space.Memory, Layout.PreviousBase + d), On(known, new(Space.Memory, unit.Plan.Discretes[d])));
        } while (again && known.Values.Sum(v => v.Count) != before);
        return known;

        void Add(PlaceCode place, IEnumerable<PlaceCode> on)
        {
            if (!known.TryGetValue(place, out var all))
                known[place] = all = [];
            all.UnionWith(on);
        }

        HashSet<PlaceCode> Of(int routine, IEnumerable<Code> codes) =>
            [
                .. codes.SelectMany(c =>
                    c switch
                    {
                        PlaceCode p => On(known, p),
                        LocalCode l => locals.GetValueOrDefault((routine, l.Local)) ?? [],
                        _ => [],
                    }
                ),
            ];

        void Visit(int routine, Statement statement, HashSet<PlaceCode> decided)
        {
            HashSet<PlaceCode> on = [.. decided, .. Of(routine, CFunctions.All(statement))];
            // Values on the way stand for all that their statement reads.
            foreach (var let in CFunctions.All(statement).OfType<LetCode>())
                locals[(routine, let.Local)] = on;
            switch (statement)
            {
                case StoreStatement s:
                    Add(s.To, on);
                    if (s.Local >= 0)
                        locals[(routine, s.Local)] = on;
                    return;
                case LocalStatement l:
                    locals[(routine, l.Local)] = on;
                    return;
                case CopyStatement c:
                    for (var k = 0; k < c.Count; k++)
                        Add(new(Space.Memory, c.To + k), [.. decided, .. On(known, new(Space.Memory, c.From + k))]);
                    return;
                case IfStatement i:
                    HashSet<PlaceCode> by = [.. decided, .. Of(routine, CFunctions.All(i.Condition))];
                    foreach (var inner in i.Then.Concat(i.Otherwise))
                        Visit(routine, inner, by);
                    return;
                case SolveStatement s:
                    var (residuals, jacobian) = functions.Loops[s.Loop];
                    var all = new HashSet<PlaceCode>(decided);
                    foreach (var (inside, line) in residuals.Statements.Concat(jacobian.Statements))
                        all.UnionWith(Of(inside, CFunctions.All(line)));
                    foreach (var torn in unit.Program.Loops[s.Loop].Torn)
                        Add(PlaceOf(torn), all);
                    foreach (var (_, line) in residuals.Statements)
                        if (line is StoreStatement { To: var to })
                            Add(to, all);
                    return;
            }
        }
    }
}
