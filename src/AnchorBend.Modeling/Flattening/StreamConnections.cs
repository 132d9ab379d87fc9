using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>
/// What flows carry along (Modelica Language Specification 3.6, chapter 15): a connector says what leaves it, and is told what would come
/// in,
/// mixed of what all others of its connection set let out. Where everything stands still, the mixture is that of equal small flows
/// (section 15.2).
/// </summary>
sealed class StreamConnections(Elaborator flat)
{
    /// <summary>Flows smaller than this, in the unit of the flow, count as this when nothing else flows.</summary>
    const double Least = 1e-5;

    readonly FlatModel model = flat.Model;

    /// <summary>For stream variables the flow of their connector.</summary>
    readonly Dictionary<int, int> flowOf = [];

    int seen;

    readonly Dictionary<int, FlatVariable> incoming = [];

    /// <summary>Those whose equation is still to be made.</summary>
    readonly Queue<int> open = [];

    /// <summary>By variable the set of its face towards the outside.</summary>
    readonly Dictionary<int, Set> outer = [];
    readonly List<Set> sets = [];

    sealed record Set(IReadOnlyList<(int Variable, bool Outside)> Members, string Where, Position At);

    public bool IsStream(int variable)
    {
        for (; seen < flat.Instances.All.Count; seen++)
            if (flat.Instances.All[seen] is { IsConnector: true } connector)
                Note(connector);
        return flowOf.ContainsKey(variable);
    }

    void Note(Instance connector)
    {
        var streams = connector.Members.Values.Where(m => m.Declaration.IsStream && m.Variable is not null).ToList();
        if (streams.Count == 0)
            return;
        if (connector.Members.Values.Where(m => m.Declaration.IsFlow).ToList() is not [{ Variable.Elements: [VariableTerm flow] }])
            throw new LanguageException(
                "stream",
                $"The connector {connector.Type.Definition.Name} carries something along and must have one flow (section 15.1).",
                streams[0].Declaration.At
            );
        foreach (var stream in streams)
        foreach (var element in stream.Variable!.Elements)
            flowOf[((VariableTerm)element).Index] = flow.Index;
    }

    /// <summary>
    /// What a stream variable would bring, and what it does bring or take. The actual one changes smoothly about no flow, where what it is
    /// multiplied with is nought: a corner there would be met by every rounding error of a flow at rest. Both sides of a connection use the
    /// same weights, so nothing is lost between them.
    /// </summary>
    public (Term Incoming, Term Actual) At(int variable, Position at)
    {
        if (!IsStream(variable))
            throw new LanguageException("stream", $"'{model.NameOf(variable)}' is no stream of a connector.", at);
        var (incoming, own) = (Incoming(variable), new VariableTerm(variable));
        var share = new CallTerm(BuiltInFunctions.Find("carriedShare")!, [new VariableTerm(flowOf[variable])]);
        return (incoming, TermBuilder.Add(own, TermBuilder.Multiply(share, TermBuilder.Subtract(incoming, own))));
    }

    VariableTerm Incoming(int variable)
    {
        if (!incoming.TryGetValue(variable, out var found))
        {
            var own = model.Variables[variable];
            incoming[variable] = found = flat.NewVariable($"{own.Name}.$incoming", VariableRole.Continuous, ScalarType.Real, own.Owner);
            found.Unit = own.Unit;
            found.Start = own.Start;
            found.Nominal = own.Nominal;
            open.Enqueue(variable);
        }

        return new VariableTerm(found.Index);
    }

    /// <summary>Streams that are connected, each with the side of its connector.</summary>
    public void Join(IReadOnlyList<(int Variable, bool Outside)> members, string where, Position at)
    {
        var set = new Set(members, where, at);
        sets.Add(set);
        foreach (var (variable, outside) in members)
            if (!outside)
                outer[variable] = set;
    }

    /// <summary>Makes the equations of all that was asked for.</summary>
    public void Complete()
    {
        // What leaves a level through its port is what its parts let out there.
        foreach (var set in sets)
        foreach (var (variable, outside) in set.Members)
            if (outside)
                model.Equations.Add(new FlatEquation(new VariableTerm(variable), Mixed(set, variable, true), set.Where, set.At));
        while (open.TryDequeue(out var variable))
        {
            var set = outer.GetValueOrDefault(variable);
            var value = set is null ? new VariableTerm(variable) : Mixed(set, variable, false);
            model.Equations.Add(
                new FlatEquation(
                    new VariableTerm(incoming[variable].Index),
                    value,
                    set?.Where ?? model.Variables[variable].Owner,
                    set?.At ?? default
                )
            );
        }
    }

    /// <summary>The mixture of what all others of a set let out towards one of them.</summary>
    Term Mixed(Set set, int variable, bool outside)
    {
        var apart = set.Members.Where(m => m != (variable, outside)).ToList();
        // What nothing ever flows out of brings nothing (section 15.2), unless there is nothing else.
        var bringing = apart.Where(m => m.Outside || !NeverLetsOut(m.Variable)).ToList();
        var others = (bringing.Count > 0 ? bringing : apart)
            .Select(m => (Value: m.Outside ? Incoming(m.Variable) : new VariableTerm(m.Variable), Flow: Towards(m.Variable, m.Outside)))
            .ToList();
        if (others.Count == 0)
            return outside ? Incoming(variable) : new VariableTerm(variable);
        if (others.Count == 1)
            return others[0].Value;
        // Section 15.2: weights are the flows towards the mixture; the less there is of them, the more each counts as a small one.
        Term Positive(Term flow) => TermBuilder.Binary(Operator.Maximum, flow, Term.Zero);
        var all = Auxiliary(Sum([.. others.Select(o => Positive(o.Flow))]), set);
        var share = Auxiliary(TermBuilder.Binary(Operator.Minimum, TermBuilder.Divide(all, Term.Of(Least)), Term.One), set);
        var weight = Auxiliary(
            TermBuilder.Multiply(
                TermBuilder.Multiply(share, share),
                TermBuilder.Subtract(Term.Of(3), TermBuilder.Multiply(Term.Two, share))
            ),
            set
        );
        Term Weight(Term flow) =>
            TermBuilder.Add(
                TermBuilder.Multiply(weight, Positive(flow)),
                TermBuilder.Multiply(TermBuilder.Subtract(Term.One, weight), TermBuilder.Binary(Operator.Maximum, flow, Term.Of(Least)))
            );
        Term[] weights = [.. others.Select(o => Auxiliary(Weight(o.Flow), set))];
        return TermBuilder.Divide(Sum([.. others.Select((o, i) => TermBuilder.Multiply(weights[i], o.Value))]), Sum(weights));
    }

    /// <summary>Whether the flow into a part has a least value of nought or more.</summary>
    bool NeverLetsOut(int variable) => model.Variables[flowOf[variable]].Minimum is ConstantTerm { Value: >= 0 };

    static Term Sum(Term[] terms) => TermBuilder.Join(terms, Term.Zero, TermBuilder.Add);

    /// <summary>The flow of a connector towards what is between the connectors of a set.</summary>
    Term Towards(int variable, bool outside)
    {
        var flow = new VariableTerm(flowOf[variable]);
        return outside ? flow : TermBuilder.Negate(flow);
    }

    VariableTerm Auxiliary(Term term, Set set)
    {
        var made = flat.NewVariable(flat.AuxiliaryName(set.Where, "mixed"), VariableRole.Continuous, ScalarType.Real, set.Where);
        model.Equations.Add(new FlatEquation(new VariableTerm(made.Index), term, set.Where, set.At));
        return new VariableTerm(made.Index);
    }
}
