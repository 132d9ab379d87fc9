using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Media;

namespace AnchorBend.Modeling.Flattening;

/// <summary>
/// One call of a function: its inputs, results and locals are places of their own (negative indices) that hold terms; the statements run
/// on them without making events (Modelica Language Specification 3.6, chapter 12).
/// </summary>
sealed class FunctionExpansion : IScope, IAlgorithmPlace
{
    readonly Elaborator flat;
    readonly LexicalClass function;
    readonly IScope caller;
    readonly Dictionary<string, Value> locals = [];
    readonly Dictionary<int, Term> given = [];
    readonly List<string> names = [];
    readonly Binder binder;
    readonly List<(ComponentDeclaration Declaration, LexicalClass WrittenIn)> components = [];
    readonly List<AlgorithmSection> algorithms = [];

    public FunctionExpansion(Elaborator flat, LexicalClass function, IScope caller)
    {
        (this.flat, this.function, this.caller) = (flat, function, caller);
        binder = new Binder(this, true);
        Collect(function, 0);
    }

    void Collect(LexicalClass type, int level)
    {
        if (level > 20)
            throw new LanguageException("recursion", $"The function {type.Definition.Name} extends itself.", type.Definition.At);
        WorkBudget.Current.Values(1 + type.Definition.Elements.Count, type.Definition.At);
        foreach (var element in type.Definition.Elements)
        {
            if (element is ComponentDeclaration component)
                components.Add((component, type));
            else if (element is ExtendsClause extends)
                Collect(
                    flat.Classes.FindClass(extends.Base, type)
                        ?? throw new LanguageException("unknown-class", $"There is no function '{extends.Base}'.", extends.At),
                    level + 1
                );
        }

        algorithms.AddRange(type.Definition.Algorithms);
        if (type.Definition.Equations.Count > 0)
            throw new LanguageException(
                "function",
                $"The function {type.Definition.Name} has equations; a function computes with 'algorithm'.",
                type.Definition.At
            );
    }

    IEnumerable<ComponentDeclaration> Inputs => components.Select(c => c.Declaration).Where(c => c.Causality == Causality.Input);

    public IReadOnlyList<Value> Call(IReadOnlyList<Value> arguments, IReadOnlyList<(string Name, Value Value)> named, Position at)
    {
        var name = function.Definition.Name;
        var inputs = Inputs.ToList();
        if (arguments.Count > inputs.Count)
            throw new LanguageException(
                "call",
                $"{name} takes {inputs.Count} argument{(inputs.Count == 1 ? "" : "s")}, not {arguments.Count}.",
                at
            );
        var byName = new Dictionary<string, Value>();
        for (var i = 0; i < arguments.Count; i++)
            byName[inputs[i].Name] = arguments[i];
        foreach (var (argument, value) in named)
        {
            if (inputs.All(i => i.Name != argument))
                throw new LanguageException(
                    "call",
                    $"{name} has no input '{argument}'.",
                    at,
                    Nearest.Of(argument, inputs.Select(i => i.Name)) is { } near ? $"Did you mean {near}?" : null
                );
            if (!byName.TryAdd(argument, value))
                throw new LanguageException("call", $"'{argument}' is given twice.", at);
        }

        var run = new Lazy<AlgorithmExpansion>(() => new AlgorithmExpansion(binder, this, this, given));
        foreach (var (component, writtenIn) in components)
            Declare(component, writtenIn, byName, at);
        var outputs = components.Select(c => c.Declaration).Where(c => c.Causality == Causality.Output).ToList();
        if (outputs.Count == 0)
            throw new LanguageException("function", $"The function {name} has no output.", function.Definition.At);
        if (function.Definition.IsBuiltIn)
            return [Value.Real(BuiltIn(inputs, at))];
        foreach (var section in algorithms)
            run.Value.Run(section.Statements);
        return [.. outputs.Select(o => ResultOf(run.Value, locals[o.Name], o, at))];
    }

    /// <summary>The function whose value is the number of a fluid that a table gives.</summary>
    const string FluidTable = "fluidTable";

    /// <summary>A table is known before the run, whole; nought where it is not used.</summary>
    ConstantTerm TableOf(List<ComponentDeclaration> inputs, Position at)
    {
        double[][] columns =
        [
            .. inputs.Select(i =>
                locals[i.Name].Elements.Select(e => flat.Values.ConstantValue(given[((VariableTerm)e).Index], at)).ToArray()
            ),
        ];
        if (columns is not [[var used], var p, var T, var d, var h, var mu, var k])
            throw new LanguageException("call", $"{FluidTable} takes whether it is used, and six columns.", at);
        try
        {
            if (used == 0)
                return new ConstantTerm(0);
            var (number, table) = Mediums.Bring(p, T, d, h, mu, k);
            flat.Model.Tables.Add(table);
            return new ConstantTerm(number);
        }
        catch (FormatException e)
        {
            throw new LanguageException("fluid-table", $"The table of the fluid cannot be used. {e.Message}", at, TableAdvice);
        }
    }

    const string TableAdvice =
        "Give a row for each pressure and temperature: pressure in Pa, temperature in K, density in kg/m3, "
        + "specific enthalpy in J/kg, viscosity in Pa.s, conductivity in W/(m.K).";

    Term BuiltIn(List<ComponentDeclaration> inputs, Position at)
    {
        var name = function.Definition.Name;
        if (name == FluidTable)
            return TableOf(inputs, at);
        if (BuiltInFunctions.Find(name) is not { } found)
            throw new LanguageException("unknown-name", $"No function '{name}' is built in.", at, "Write its algorithm.");
        Term[] operands = [.. inputs.SelectMany(i => locals[i.Name].Elements).Select(e => given[((VariableTerm)e).Index])];
        return operands.Length == found.Arity
            ? new CallTerm(found, operands)
            : throw new LanguageException("call", $"{name} takes {found.Arity} numbers, not {operands.Length}.", at);
    }

    static Value ResultOf(AlgorithmExpansion run, Value places, ComponentDeclaration output, Position at)
    {
        try
        {
            return places with { Elements = [.. places.Elements.Select(e => run.Present(((VariableTerm)e).Index))] };
        }
        catch (LanguageException e) when (e.Error.Code == "algorithm")
        {
            throw new LanguageException("function", $"The function gives its output '{output.Name}' no value.", at);
        }
    }

    void Declare(ComponentDeclaration component, LexicalClass writtenIn, Dictionary<string, Value> arguments, Position at)
    {
        var type = TypeOf(component, writtenIn);
        Value? value = null;
        if (
            component.Causality == Causality.Input
            && !arguments.TryGetValue(component.Name, out value)
            && component.Modification?.Binding is null
        )
            throw new LanguageException("call", $"{function.Definition.Name} needs a value for its input '{component.Name}'.", at);
        binder.Assigned = i =>
            given.TryGetValue(i, out var term)
                ? term
                : throw new LanguageException("function", $"'{NameOf(i)}' is read before it has a value.", component.At);
        if (value is null && component.Modification?.Binding is { } binding)
            value = binder.Bind(binding);
        if (type == ScalarType.String)
        {
            locals[component.Name] = value ?? Value.OfString("");
            return;
        }

        // A size may speak of the array itself: input Real A[:, size(A, 1)].
        if (value is not null)
            locals[component.Name] = value;
        var shape = new int[component.Dimensions.Count];
        for (var d = 0; d < shape.Length; d++)
        {
            if (component.Dimensions[d] is not WholeDimension)
                shape[d] = binder.WholeNumber(component.Dimensions[d]);
            else if (value is not null && d < value.Shape.Length)
                shape[d] = value.Shape[d];
            else
                throw new LanguageException(
                    "size",
                    $"The size of '{component.Name}' in {function.Definition.Name} is open and no value fixes it.",
                    component.At
                );
        }

        if (value is not null)
        {
            if (
                value.Type == ScalarType.String
                || type != ScalarType.Enumeration && value.IsNumeric != type is ScalarType.Real or ScalarType.Integer
            )
                throw new LanguageException(
                    "type",
                    $"'{component.Name}' of {function.Definition.Name} cannot take a value of this type.",
                    at
                );
            if (!value.Shape.AsSpan().SequenceEqual(shape))
                throw new LanguageException(
                    "shape",
                    $"'{component.Name}' of {function.Definition.Name} is {Value.ShapeText(shape)}, but its value is "
                        + $"{Value.ShapeText(value.Shape)}.",
                    at
                );
        }

        var count = Value.CountOf(shape);
        if (count is < 0 or > 100_000)
            throw new LanguageException("size", $"The array '{component.Name}' is too large.", component.At);
        var elements = new Term[count];
        for (var i = 0; i < count; i++)
        {
            names.Add(component.Name);
            elements[i] = new VariableTerm(-names.Count);
            if (value is not null)
                given[-names.Count] = value.Elements[i];
        }

        locals[component.Name] = new Value(type, shape, elements) { Enumeration = value?.Enumeration };
    }

    ScalarType TypeOf(ComponentDeclaration component, LexicalClass writtenIn)
    {
        var name = component.TypeName;
        for (var hop = 0; hop < 20; hop++)
        {
            if (Instantiation.Primitive(name) is { } type)
                return type;
            var found = flat.Classes.FindClass(name, writtenIn)
                ?? throw new LanguageException("unknown-class", $"There is no type '{name}'.", component.At);
            if (found.Definition.Enumeration is not null)
                return ScalarType.Enumeration;
            if (found.Definition.Alias is not { } alias)
                throw new LanguageException(
                    "unsupported",
                    $"Inputs and locals of a function are numbers, conditions, choices and arrays of them, not {found.Definition.Name}.",
                    component.At,
                    "Hand the members of a record over one by one."
                );
            name = alias.Base;
        }

        throw new LanguageException("recursion", $"The type {name} is defined by itself.", component.At);
    }

    public Value Resolve(Reference reference, Func<Expression, int?, Value> subscripts)
    {
        var first = reference.Parts[0];
        if (locals.TryGetValue(first.Name, out var local))
        {
            if (reference.Parts.Count > 1)
                throw new LanguageException("unknown-name", $"'{first.Name}' has no '{reference.Parts[1].Name}'.", reference.At);
            return first.Subscripts.Count == 0 ? local : Selection.Of(local, first, reference.At, subscripts, Constant);
        }

        if (flat.Functions.ConstantFrom(function, reference) is { } constant)
            return constant;
        throw new LanguageException(
            "unknown-name",
            $"There is no '{reference.Path}' in the function {function.Definition.Name}.",
            reference.At,
            Nearest.Of(first.Name, locals.Keys.Concat(Binder.Functions)) is { } near
                ? $"Did you mean {near}?"
                : "A function knows its inputs, its own variables and constants."
        );
    }

    public Term? Initial(int variable) => given.GetValueOrDefault(variable);

    public string NameOf(int variable) => variable < 0 && -variable <= names.Count ? names[-variable - 1] : "a variable";

    public Term Fires(Value condition, Position at) =>
        throw new LanguageException("function", "A when statement cannot stand in a function.", at);

    public void AssignedAtEvents(int variable, Position at) { }

    public void Perform(Call call, Binder inner, Term path, bool atEvent)
    {
        if (call.Function == "assert")
            return;
        binder.CallAll(call);
    }

    public Term DerivativeOf(int variable, Position at) => throw new LanguageException("function", "der cannot stand in a function.", at);

    public double Constant(Term term, Position at) => caller.Constant(term, at);

    public int SampleClock(Term start, Term interval, Position at) =>
        throw new LanguageException("function", "sample cannot stand in a function.", at);

    public Term Delay(Term source, Term duration, Term? longest, Position at) =>
        throw new LanguageException("function", "delay cannot stand in a function.", at);

    public int Discrete(string name, Func<int, Term> equation, Position at) =>
        throw new LanguageException("function", $"{name} that makes events cannot stand in a function.", at);

    public Term Auxiliary(Term term, Position at) => caller.Auxiliary(term, at);

    public int InitialFlag => caller.InitialFlag;

    public Origin? OriginOf(Position at, OriginKind kind) =>
        caller.OriginOf(at, kind) is { } origin ? origin with { Type = function.Definition.Name } : null;

    public IReadOnlyList<Value>? CallFunction(
        string name,
        IReadOnlyList<Value> arguments,
        IReadOnlyList<(string Name, Value Value)> named,
        Position at
    ) =>
        flat.Classes.FindClass(name, function) is { Definition.Kind: ClassKind.Function } called
            ? flat.Functions.Call(called, caller, arguments, named, at)
            : null;
}
