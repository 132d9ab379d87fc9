using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>
/// Connection sets (chapter 9): signals take the value of the one output of their set; potentials of physical connectors are equal and
/// their flows sum to zero.
/// </summary>
sealed class ConnectionSets(Elaborator flat)
{
    readonly FlatModel model = flat.Model;
    readonly List<Finding> findings = flat.Findings;

    /// <summary>Paths of the connectors that something is connected to, and of those with a connection from inside their part.</summary>
    public (HashSet<string> Connected, HashSet<string> FromInside) Connectors() =>
        (
            joined.Keys.Select(f => model.Variables[VariableOf(f)].Owner).ToHashSet(),
            joined.Keys.Where(IsOutside).Select(f => model.Variables[VariableOf(f)].Owner).ToHashSet()
        );

    // A port of a part that has parts itself is connected on both sides of its boundary. These are two connection sets (section 9.2), so
    // what is joined are faces of variables, not variables.
    readonly Dictionary<int, int> setOf = [];

    readonly Dictionary<int, (bool Flow, Position At, string Where)> joined = [];

    /// <summary>The face of a variable towards the inside of its part, where a connection in that part's class has it.</summary>
    static int Face(int variable, bool outside) => 2 * variable + (outside ? 1 : 0);

    static int VariableOf(int face) => face / 2;

    static bool IsOutside(int face) => face % 2 == 1;

    readonly HashSet<int> connectedInputs = [];

    public void Connect(Instance instance, ConnectEquation connect)
    {
        if (IsLeftOut(instance, connect.First) || IsLeftOut(instance, connect.Second) || flat.Bundles.ConnectBundle(instance, connect))
            return;
        Connect(instance, connect.First, instance, connect.Second, connect.At);
    }

    /// <summary>Connects two ports, each seen from an instance of its own.</summary>
    public void Connect(Instance instance, Reference port, Instance otherInstance, Reference other, Position at)
    {
        var first = Port(instance, port);
        var second = Port(otherInstance, other);
        var (cells, otherCells) = (PartAt(instance, port), PartAt(otherInstance, other));
        flat.Networks.JoinNetworks(cells, otherCells, (port.Path, other.Path), at);
        if (cells is [_] && otherCells is [_, _, ..])
            first = Repeated(first, otherCells.Length);
        else if (otherCells is [_] && cells is [_, _, ..])
            second = Repeated(second, cells.Length);
        else if (cells is not null && otherCells is not null && cells.Length != otherCells.Length)
            throw new LanguageException(
                CellsDiffer,
                $"'{port.Path}' has {cells.Length} cells and '{other.Path}' has {otherCells.Length}.",
                at,
                "Give both as many cells, or join them one by one in the equations of a part."
            );
        if (first.Count != second.Count)
            throw new LanguageException(
                "shape",
                $"'{port.Path}' has {first.Count} signal{(first.Count == 1 ? "" : "s")} and '{other.Path}' has {second.Count}.",
                at
            );
        for (var i = 0; i < first.Count; i++)
        {
            if (first[i].Flow != second[i].Flow)
                throw new LanguageException("connect", $"'{port.Path}' and '{other.Path}' are connectors of different kinds.", at);
            Join(Face(first[i].Index, first[i].Outside), Face(second[i].Index, second[i].Outside));
            foreach (var (index, flow, outside) in new[] { first[i], second[i] })
                joined[Face(index, outside)] = (flow, at, instance.Path);
        }
    }

    /// <summary>Code of the finding that two rows of ports in one wire are not equally long.</summary>
    public const string CellsDiffer = "cells";

    /// <summary>One port that meets a row of them meets each: all are at one potential.</summary>
    static List<(int Index, bool Flow, bool Outside)> Repeated(List<(int Index, bool Flow, bool Outside)> port, int times) =>
        [.. Enumerable.Repeat(port, times).SelectMany(p => p)];

    /// <summary>Whether a part or port on the way is not there under its condition (section 4.4.5).</summary>
    bool IsLeftOut(Instance instance, Reference reference)
    {
        var at = instance;
        foreach (var part in reference.Parts)
        {
            if (!at.Members.TryGetValue(part.Name, out var member))
                return false;
            flat.Instances.Ensure(member);
            if (!member.IsPresent)
                return true;
            if (member.Parts is not [var next, ..])
                return false;
            at = next;
        }

        return false;
    }

    public List<(int Index, bool Flow, bool Outside)> Port(Instance instance, Reference reference)
    {
        var result = new List<(int, bool, bool)>();
        // A connector of the instance itself is an outside one; one of its parts is inside.
        var outside = reference.Parts.Count == 1;
        if (PartAt(instance, reference) is { } connectors)
        {
            foreach (var connector in connectors)
            {
                if (!connector.IsConnector)
                    throw new LanguageException("connect", $"'{reference.Path}' is a part, not a port.", reference.At);
                foreach (
                    var member in connector.Members.Values.Where(m =>
                        m.Variable is not null && m.Declaration.Variability is not (Variability.Parameter or Variability.Constant)
                    )
                )
                foreach (var term in member.Variable!.Elements)
                    result.Add((((VariableTerm)term).Index, member.Declaration.IsFlow, outside));
            }

            return result;
        }

        var value = instance.Scope.Binder.Bind(reference);
        foreach (var term in value.Elements)
        {
            if (term is not VariableTerm v || model.Variables[v.Index].Causality == Causality.None)
                throw new LanguageException(
                    "connect",
                    $"'{reference.Path}' is not a port.",
                    reference.At,
                    "Only inputs, outputs and physical connectors can be connected."
                );
            result.Add((v.Index, false, outside));
        }

        return result;
    }

    /// <summary>The connector instances a reference names; null when it names a variable.</summary>
    public Instance[]? PartAt(Instance instance, Reference reference)
    {
        var at = new[] { instance };
        foreach (var part in reference.Parts)
        {
            if (at.Length != 1 || !at[0].Members.TryGetValue(part.Name, out var member))
                return null;
            flat.Instances.Ensure(member);
            if (member.Parts is null)
                return null;
            at =
                part.Subscripts.Count == 0 || member.Shape.Length == 0
                    ? member.Parts
                    : [member.Parts[instance.Scope.FlatIndex(member.Shape, part, reference.At, (e, _) => instance.Scope.Binder.Bind(e))]];
        }

        return at;
    }

    int Root(int index)
    {
        while (setOf.TryGetValue(index, out var up) && up != index)
        {
            if (setOf.TryGetValue(up, out var further))
                setOf[index] = further;
            index = up;
        }

        return index;
    }

    void Join(int a, int b)
    {
        var (ra, rb) = (Root(a), Root(b));
        setOf.TryAdd(ra, ra);
        setOf.TryAdd(rb, rb);
        if (ra != rb)
            setOf[Math.Max(ra, rb)] = Math.Min(ra, rb);
    }

    public void ConnectAll(Instance top)
    {
        foreach (var set in joined.Keys.GroupBy(Root).OrderBy(g => g.Key))
        {
            var members = set.OrderBy(i => i).ToList();
            if (flat.Streams.IsStream(VariableOf(members[0])))
                flat.Streams.Join([.. members.Select(f => (VariableOf(f), IsOutside(f)))], joined[members[0]].Where, joined[members[0]].At);
            else if (model.Variables[VariableOf(members[0])].Causality == Causality.None)
                ConnectPhysical(members);
            else
                ConnectSignal(members);
        }

        foreach (var instance in flat.Instances.All)
        foreach (var member in instance.Members.Values)
        {
            if (member.Variable is null || !member.IsPresent)
                continue;
            if (member.Declaration.IsFlow && instance.IsConnector)
                CloseFlows(member);
            if (member.Declaration.Causality == Causality.Input)
                CloseInput(instance, member, ReferenceEquals(instance, top));
        }
    }

    void ConnectSignal(List<int> faces)
    {
        // Seen from the connections, a part's output drives, and so does an input of the model around.
        List<int> drivers =
        [
            .. faces.Where(f => (model.Variables[VariableOf(f)].Causality == Causality.Output) != IsOutside(f)).Select(VariableOf),
        ];
        var (_, at, where) = joined[faces[0]];
        if (drivers.Count > 1)
        {
            findings.Add(
                new Finding(
                    Severity.Error,
                    "double-driver",
                    $"'{model.NameOf(drivers[0])}' and '{model.NameOf(drivers[1])}' drive the same signal.",
                    model.Variables[drivers[1]].Owner,
                    null,
                    at,
                    "Remove one of the two wires, or add the signals in a sum."
                )
            );
            return;
        }

        if (drivers.Count == 0)
            return;
        foreach (var index in faces.Select(VariableOf).Where(i => i != drivers[0]))
        {
            connectedInputs.Add(index);
            Term source = new VariableTerm(drivers[0]);
            var (from, to) = (model.Variables[drivers[0]], model.Variables[index]);
            if (
                from.Type != to.Type
                && !(
                    from.Type is Language.Binding.ScalarType.Real or Language.Binding.ScalarType.Integer
                    && to.Type is Language.Binding.ScalarType.Real
                )
            )
            {
                findings.Add(
                    new Finding(
                        Severity.Error,
                        "type",
                        $"'{from.Name}' ({TypeWord(from)}) cannot drive '{to.Name}' ({TypeWord(to)}).",
                        to.Owner,
                        null,
                        at
                    )
                );
                continue;
            }

            if (from.Unit is { } u && to.Unit is { } w && u.Fits(w))
            {
                var (scale, shift) = u.ConversionTo(w);
                source = TermBuilder.Add(TermBuilder.Multiply(source, Term.Of(scale)), Term.Of(shift));
            }

            model.Equations.Add(new FlatEquation(new VariableTerm(index), source, where, at));
        }
    }

    static string TypeWord(FlatVariable v) =>
        v.Type switch
        {
            Language.Binding.ScalarType.Boolean => "true or false",
            Language.Binding.ScalarType.Integer => "whole number",
            Language.Binding.ScalarType.Enumeration => "choice",
            _ => "real",
        };

    void ConnectPhysical(List<int> faces)
    {
        var (flow, at, where) = joined[faces[0]];
        if (!flow)
        {
            var first = new VariableTerm(VariableOf(faces[0]));
            foreach (var face in faces.Skip(1))
                model.Equations.Add(new FlatEquation(new VariableTerm(VariableOf(face)), first, where, at));
            return;
        }

        Term[] flows =
        [
            .. faces.Select(f =>
                IsOutside(f) ? TermBuilder.Negate(new VariableTerm(VariableOf(f))) : (Term)new VariableTerm(VariableOf(f))
            ),
        ];
        model.Equations.Add(new FlatEquation(TermBuilder.Join(flows, Term.Zero, TermBuilder.Add), Term.Zero, where, at));
    }

    /// <summary>Nothing flows through a connector that nothing outside its part is connected to.</summary>
    void CloseFlows(Member member)
    {
        foreach (var term in member.Variable!.Elements)
            if (!joined.ContainsKey(Face(((VariableTerm)term).Index, false)))
                model.Equations.Add(new FlatEquation(term, Term.Zero, member.Owner.Path, member.Declaration.At));
    }

    /// <summary>An input that nothing drives keeps its declared value, or zero with a finding.</summary>
    void CloseInput(Instance instance, Member member, bool isTop)
    {
        bool IsOpen(int index) => !connectedInputs.Contains(index) && (isTop || !IsGivenOutside(model.Variables[index]));
        if (member.Binding is { } binding)
        {
            flat.Guard(
                instance.Path,
                () => flat.Attributes.AddBindingEquation(member, member.Variable!, binding, IsOpen),
                member.Declaration.Name
            );
            return;
        }

        foreach (var term in member.Variable!.Elements)
        {
            var variable = model.Variables[((VariableTerm)term).Index];
            if (!IsOpen(variable.Index))
                continue;
            model.Equations.Add(new FlatEquation(term, variable.Start ?? Term.Zero, instance.Path, member.Declaration.At));
            if (!isTop)
                findings.Add(
                    new Finding(
                        Severity.Warning,
                        "unconnected",
                        $"The input '{member.Declaration.Name}' is not connected; it is zero.",
                        instance.Path,
                        variable.Name[(instance.Path.Length + 1)..],
                        default,
                        "Connect a signal to it."
                    )
                );
        }
    }

    /// <summary>Whether an equation of a surrounding model speaks of a part's input, as text models may.</summary>
    bool IsGivenOutside(FlatVariable input)
    {
        if (givenOutside is null)
        {
            givenOutside = [];
            foreach (var equation in model.Equations)
            foreach (var side in (ReadOnlySpan<Term>)[equation.Left, equation.Right])
                TermBuilder.VisitVariables(side, i =>
                {
                    var owner = model.Variables[i].Owner;
                    if (owner.Length > equation.Owner.Length && owner != equation.Owner)
                        givenOutside.Add(i);
                });
        }

        return givenOutside.Contains(input.Index);
    }

    HashSet<int>? givenOutside;
}
