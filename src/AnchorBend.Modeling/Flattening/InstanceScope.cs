using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>What names mean inside one instance.</summary>
sealed class InstanceScope : IScope
{
    readonly Elaborator flat;
    readonly Instance instance;
    readonly Func<Term, Position, double> constantValue;

    public InstanceScope(Elaborator flat, Instance instance)
    {
        this.flat = flat;
        this.instance = instance;
        constantValue = flat.Values.ConstantValue;
        Binder = new Binder(this);
    }

    public Binder Binder { get; }

    /// <summary>The class and the instance in which names are looked up here.</summary>
    public LexicalClass Type => instance.Type;

    public Instance Place => instance;

    /// <summary>Whether a name belongs to this instance itself.</summary>
    public bool Knows(string name) => instance.Members.ContainsKey(name);

    public int InitialFlag => FlatModel.InitialFlagIndex;

    public Origin? OriginOf(Position at, OriginKind kind) => new(instance.Path, instance.Type.Definition.Name, at, kind);

    public Value Resolve(Reference reference, Func<Expression, int?, Value> subscript)
    {
        var first = reference.Parts[0];
        if (reference.Parts.Count == 1 && first.Name == "time" && !instance.Members.ContainsKey("time"))
            return Value.Real(new VariableTerm(FlatModel.TimeIndex));
        if (instance.Members.TryGetValue(first.Name, out _))
            return Follow(instance, reference, 0, subscript);
        if (reference.Parts.Count >= 2 && Literal(reference) is { } literal)
            return literal;
        if (ConstantOf(reference, subscript) is { } constant)
            return constant;
        throw Unknown(instance, first.Name, reference.At, true);
    }

    Value Follow(Instance at, Reference reference, int position, Func<Expression, int?, Value> subscript)
    {
        var part = reference.Parts[position];
        if (!at.Members.TryGetValue(part.Name, out var member))
            throw Unknown(at, part.Name, reference.At, false);
        flat.Instances.Ensure(member);
        if (!member.IsPresent)
            throw new LanguageException("conditional", $"'{part.Name}' is not present with the present settings.", reference.At);
        if (member.Variable is { } value)
        {
            if (position < reference.Parts.Count - 1)
                throw new LanguageException(
                    "unknown-name",
                    $"'{part.Name}' is a variable and has no '{reference.Parts[position + 1].Name}'.",
                    reference.At
                );
            return part.Subscripts.Count == 0 ? value : Selection.Of(value, part, reference.At, subscript, constantValue);
        }

        if (member.Parts is null)
            throw new LanguageException(Elaborator.FollowUp, $"'{part.Name}' could not be made.", reference.At);
        if (position == reference.Parts.Count - 1)
            return WholePart(member, part, reference.At);
        if (member.Shape.Length == 0)
            return Follow(member.Parts[0], reference, position + 1, subscript);
        if (part.Subscripts.Count == 0)
        {
            var values = member.Parts.Select(p => Follow(p, reference, position + 1, subscript)).ToArray();
            if (values.Length == 0)
                return new Value(ScalarType.Real, [0], []);
            return values[0] with { Shape = [.. member.Shape, .. values[0].Shape], Elements = [.. values.SelectMany(v => v.Elements)] };
        }

        return Follow(member.Parts[FlatIndex(member.Shape, part, reference.At, subscript)], reference, position + 1, subscript);
    }

    static Value WholePart(Member member, ReferencePart part, Position at) =>
        throw new LanguageException(
            "type",
            $"'{part.Name}' is a part of type {member.Declaration.TypeName}, not a value.",
            at,
            member.Parts is [var only, ..]
            && only.Members.Values.FirstOrDefault(m => m.Declaration.Causality == Causality.Output) is { } output
                ? $"Write {part.Name}.{output.Declaration.Name} for its output."
                : null
        );

    internal int FlatIndex(int[] shape, ReferencePart part, Position at, Func<Expression, int?, Value> subscript)
    {
        if (part.Subscripts.Count != shape.Length)
            throw new LanguageException("shape", $"'{part.Name}' takes {shape.Length} subscripts.", at);
        var flat = 0;
        for (var d = 0; d < shape.Length; d++)
        {
            var value = subscript(part.Subscripts[d], shape[d]).ScalarTerm(at);
            flat = flat * shape[d] + Selection.Index(value, shape[d], part, at, constantValue) - 1;
        }

        return flat;
    }

    Value? Literal(Reference reference)
    {
        var typeName = string.Join('.', reference.Parts.Take(reference.Parts.Count - 1).Select(p => p.Name));
        if (flat.Classes.FindClass(typeName, instance.Type, instance)?.Definition is not { Enumeration: { } literals } type)
            return null;
        var name = reference.Parts[^1].Name;
        for (var i = 0; i < literals.Count; i++)
            if (literals[i].Name == name)
                return Value.Scalar(ScalarType.Enumeration, Term.Of(i + 1)) with { Enumeration = type.Name };
        throw new LanguageException(
            "unknown-name",
            $"{type.Name} has no choice '{name}'.",
            reference.At,
            Nearest.Of(name, literals.Select(l => l.Name)) is { } near
                ? $"Did you mean {near}?"
                : $"The choices are {string.Join(", ", literals.Select(l => l.Name))}."
        );
    }

    /// <summary>A constant of an enclosing class or a package.</summary>
    Value? ConstantOf(Reference reference, Func<Expression, int?, Value> subscript)
    {
        var name = reference.Parts[^1].Name;
        if (reference.Parts.Count == 1)
        {
            for (var around = instance.Type.Around; around is not null; around = around.Around)
                if (Constant(around, name) is { } found)
                    return found;
            return null;
        }

        var packageName = string.Join('.', reference.Parts.Take(reference.Parts.Count - 1).Select(p => p.Name));
        return flat.Classes.FindClass(packageName, instance.Type, instance) is { } package ? Constant(package, name) : null;
    }

    Value? Constant(LexicalClass package, string name)
    {
        var declaration = package.Definition.Components.FirstOrDefault(c => c.Name == name && c.Variability == Variability.Constant);
        return declaration?.Modification?.Binding is { } binding ? flat.Functions.ConstantIn(package, binding) : null;
    }

    static LanguageException Unknown(Instance at, string name, Position position, bool simple)
    {
        var near = Nearest.Of(name, at.Members.Keys.Concat(simple ? ["time", .. Binder.Functions] : []));
        var where = at.Path.Length == 0 ? "" : $" in '{at.Path}'";
        var error = new LanguageException(
            "unknown-name",
            $"There is no '{name}'{where}.",
            position,
            near is null ? null : $"Did you mean {near}?"
        );
        if (near is not null)
            error.Data["replacement"] = near;
        return error;
    }

    public Term DerivativeOf(int variable, Position at) => flat.DerivativeOf(variable, at);

    public double Constant(Term term, Position at) => flat.Values.ConstantValue(term, at);

    public int SampleClock(Term start, Term interval, Position at)
    {
        var flag = flat.NewVariable(flat.AuxiliaryName(instance.Path, "tick"), VariableRole.External, ScalarType.Boolean, instance.Path);
        flat.Model.Clocks.Add(new SampleClock(flag.Index, start, interval, instance.Path, at));
        return flag.Index;
    }

    public Term Delay(Term source, Term duration, Term? longest, Position at)
    {
        var varies = ChangesDuringRun(duration);
        if (varies && longest is null)
            throw new LanguageException(
                "call",
                "A delay time that varies during the run needs the longest one beside it.",
                at,
                "Write delay(u, T, Tmax) with a Tmax known before the run."
            );

        var input = source as VariableTerm;
        if (input is null || flat.Model.Variables[input.Index].Role == VariableRole.Parameter)
        {
            var auxiliary = flat.NewVariable(
                flat.AuxiliaryName(instance.Path, "delayed"),
                VariableRole.Continuous,
                ScalarType.Real,
                instance.Path
            );
            input = new VariableTerm(auxiliary.Index);
            flat.Model.Equations.Add(new FlatEquation(input, source, instance.Path, at));
        }

        if (!varies)
        {
            flat.Model.Delays.Add(new DelayLine(input.Index, duration, -1, instance.Path, at));
            return new DelayTerm(flat.Model.Delays.Count - 1);
        }

        var time = flat.NewVariable(
            flat.AuxiliaryName(instance.Path, "delay"),
            VariableRole.Continuous,
            ScalarType.Real,
            instance.Path,
            "s"
        );
        flat.Model.Equations.Add(new FlatEquation(new VariableTerm(time.Index), duration, instance.Path, at));
        flat.Model.Delays.Add(new DelayLine(input.Index, longest!, time.Index, instance.Path, at));
        return new DelayTerm(flat.Model.Delays.Count - 1, new VariableTerm(time.Index));
    }

    public bool ChangesDuringRun(Term term) =>
        TermBuilder.Any(term, t =>
            t is VariableTerm v && flat.Model.Variables[v.Index].Role != VariableRole.Parameter || t is DelayTerm or PreviousTerm
        );

    public Term Auxiliary(Term term, Position at) => flat.Functions.AuxiliaryOf(term, instance, at);

    public (Term Incoming, Term Actual) Stream(int variable, Position at) => flat.Streams.At(variable, at);

    public IReadOnlyList<Value>? CallFunction(
        string name,
        IReadOnlyList<Value> arguments,
        IReadOnlyList<(string Name, Value Value)> named,
        Position at
    ) =>
        flat.Classes.FindClass(name, instance.Type, instance) is { Definition.Kind: ClassKind.Function } function
            ? flat.Functions.Call(function, this, arguments, named, at)
            : null;

    public int Discrete(string name, Func<int, Term> equation, Position at)
    {
        var variable = flat.NewVariable(flat.AuxiliaryName(instance.Path, name), VariableRole.Discrete, ScalarType.Real, instance.Path);
        flat.Model.Equations.Add(new FlatEquation(new VariableTerm(variable.Index), equation(variable.Index), instance.Path, at));
        return variable.Index;
    }
}

/// <summary>Inside a part's formula: the part's own ports first, then the names of the model around it.</summary>
sealed class FormulaScope(InstanceScope inside, InstanceScope around) : IScope
{
    public int InitialFlag => inside.InitialFlag;

    public Origin? OriginOf(Position at, OriginKind kind) => inside.OriginOf(at, kind);

    public Value Resolve(Reference reference, Func<Expression, int?, Value> subscripts) =>
        (inside.Knows(reference.Parts[0].Name) ? inside : around).Resolve(reference, subscripts);

    public Term DerivativeOf(int variable, Position at) => inside.DerivativeOf(variable, at);

    public double Constant(Term term, Position at) => inside.Constant(term, at);

    public int SampleClock(Term start, Term interval, Position at) => inside.SampleClock(start, interval, at);

    public Term Delay(Term source, Term duration, Term? longest, Position at) => inside.Delay(source, duration, longest, at);

    public int Discrete(string name, Func<int, Term> equation, Position at) => inside.Discrete(name, equation, at);

    public bool ChangesDuringRun(Term term) => inside.ChangesDuringRun(term);

    public Term Auxiliary(Term term, Position at) => inside.Auxiliary(term, at);

    public (Term Incoming, Term Actual) Stream(int variable, Position at) => inside.Stream(variable, at);

    public IReadOnlyList<Value>? CallFunction(
        string name,
        IReadOnlyList<Value> arguments,
        IReadOnlyList<(string Name, Value Value)> named,
        Position at
    ) => inside.CallFunction(name, arguments, named, at);
}
