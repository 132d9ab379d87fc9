using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>Algorithm sections and functions become equations.</summary>
public sealed partial class Flattener
{
    const int MaximumCallDepth = 100;

    int callDepth;

    /// <summary>Each variable that the section assigns equals the term it ends with.</summary>
    void Expand(Instance instance, AlgorithmSection section)
    {
        var binder = new Binder(instance.Scope);
        var place = new ModelAlgorithm(this, instance);
        place.NoteTargets(section.Statements, false);
        var run = new AlgorithmExpansion(binder, instance.Scope, place);
        run.Run(section.Statements);
        foreach (var (variable, term) in run.Results)
            (section.Initial ? model.InitialEquations : model.Equations).Add(
                new FlatEquation(new VariableTerm(variable), term, instance.Path, section.At)
            );
    }

    /// <summary>The results of a function, made of its statements; arrays in the place of scalar inputs give arrays (section
    /// 12.4.6).</summary>
    internal IReadOnlyList<Value> Call(
        LexicalClass function,
        IScope caller,
        IReadOnlyList<Value> arguments,
        IReadOnlyList<(string Name, Value Value)> named,
        Position at
    )
    {
        budget.FunctionCall(function.Definition.Name, at);
        if (++callDepth > MaximumCallDepth)
            throw new LanguageException("recursion", $"{function.Definition.Name} calls itself more than {MaximumCallDepth} times.", at);
        try
        {
            var inputs = function.Definition.Components.Where(c => c.Causality == Causality.Input).ToList();
            bool IsSpread(Value value, ComponentDeclaration? input) => input is { Dimensions.Count: 0 } && value.Shape.Length > 0;
            var spread = arguments
                .Where((a, i) => IsSpread(a, inputs.ElementAtOrDefault(i)))
                .Concat(named.Where(n => IsSpread(n.Value, inputs.Find(i => i.Name == n.Name))).Select(n => n.Value))
                .ToList();
            if (spread.Count == 0)
                return new FunctionExpansion(this, function, caller).Call(arguments, named, at);
            foreach (var value in spread)
                Binder.SameShape(spread[0], value, at);
            Value Element(Value value, ComponentDeclaration? input, int k) =>
                IsSpread(value, input) ? value with { Shape = [], Elements = [value.Elements[k]] } : value;
            var results = Enumerable
                .Range(0, spread[0].Elements.Length)
                .Select(k =>
                    new FunctionExpansion(this, function, caller).Call(
                        [.. arguments.Select((a, i) => Element(a, inputs.ElementAtOrDefault(i), k))],
                        [.. named.Select(n => (n.Name, Element(n.Value, inputs.Find(i => i.Name == n.Name), k)))],
                        at
                    )[0]
                )
                .ToList();
            if (results.Count == 0)
                return [new Value(ScalarType.Real, [.. spread[0].Shape], [])];
            return
            [
                results[0] with
                {
                    Shape = [.. spread[0].Shape, .. results[0].Shape],
                    Elements = [.. results.SelectMany(r => r.Elements)],
                },
            ];
        }
        finally
        {
            callDepth--;
        }
    }

    /// <summary>A variable that equals a term: a parameter where the term is made of parameters, discrete where it changes at events
    /// only.</summary>
    internal Term AuxiliaryOf(Term term, Instance instance, Position at)
    {
        bool Reads(VariableRole role) => TermBuilder.Any(term, t => t is VariableTerm v && model.Variables[v.Index].Role == role);
        var atEvents = TermBuilder.Any(term, t => t is PreviousTerm) || !Reads(VariableRole.Continuous) && Reads(VariableRole.Discrete);
        var role =
            atEvents ? VariableRole.Discrete
            : TermBuilder.Any(term, t => t is DelayTerm) || Reads(VariableRole.Continuous) || Reads(VariableRole.External)
                ? VariableRole.Continuous
            : VariableRole.Parameter;
        var variable = NewVariable(AuxiliaryName(instance.Path, "part"), role, ScalarType.Real, instance.Path);
        if (role == VariableRole.Parameter)
            variable.Binding = term;
        else
            model.Equations.Add(new FlatEquation(new VariableTerm(variable.Index), term, instance.Path, at));
        return new VariableTerm(variable.Index);
    }

    /// <summary>The value of a package's constant, whose expression sees the package's names.</summary>
    internal Value ConstantIn(LexicalClass package, Expression binding)
    {
        if (++callDepth > MaximumCallDepth)
            throw new LanguageException("cycle", "The value of this constant depends on itself.", binding.At);
        try
        {
            return ScopeOf(package).Binder.Bind(binding);
        }
        finally
        {
            callDepth--;
        }
    }

    /// <summary>A constant or a choice seen from a class, not from an instance of it; null when there is none.</summary>
    internal Value? ConstantFrom(LexicalClass from, Reference reference)
    {
        var scope = ScopeOf(from);
        try
        {
            return scope.Resolve(reference, (e, _) => scope.Binder.Bind(e));
        }
        catch (LanguageException e) when (e.Error.Code == "unknown-name")
        {
            return null;
        }
    }

    InstanceScope ScopeOf(LexicalClass type) => new(this, new Instance("", type));

    /// <summary>An algorithm section in a model.</summary>
    sealed class ModelAlgorithm(Flattener flattener, Instance instance) : IAlgorithmPlace
    {
        readonly HashSet<int> targets = [];

        /// <summary>Notes what the statements assign: it starts with its start value, or with what it was where it is discrete (section
        /// 11.1.2).</summary>
        public void NoteTargets(IReadOnlyList<Statement> statements, bool atEvent)
        {
            foreach (var statement in statements)
            {
                foreach (
                    var target in statement switch
                    {
                        AssignStatement a => [a.Target],
                        AssignManyStatement many => many.Targets,
                        _ => (IReadOnlyList<Reference?>)[],
                    }
                )
                {
                    if (target is null)
                        continue;
                    var whole = new Reference([.. target.Parts.Select(p => p with { Subscripts = [] })], target.At);
                    foreach (var element in instance.Scope.Binder.Bind(whole).Elements.OfType<VariableTerm>())
                    {
                        var v = flattener.model.Variables[element.Index];
                        if (v.Role is VariableRole.Parameter or VariableRole.External)
                            throw new LanguageException(
                                "algorithm",
                                $"'{v.Name}' is known before the run and cannot be assigned to.",
                                target.At
                            );
                        targets.Add(element.Index);
                        if (atEvent)
                            AssignedAtEvents(element.Index, target.At);
                    }
                }

                foreach (
                    var body in statement switch
                    {
                        IfStatement choice => [.. choice.Branches.Select(b => b.Body), choice.Otherwise],
                        WhenStatement clause => clause.Branches.Select(b => b.Body),
                        ForStatement loop => [loop.Body],
                        WhileStatement loop => [loop.Body],
                        _ => (IEnumerable<IReadOnlyList<Statement>>)[],
                    }
                )
                    NoteTargets(body, atEvent || statement is WhenStatement);
            }
        }

        public Term? Initial(int variable)
        {
            var v = flattener.model.Variables[variable];
            return !targets.Contains(variable) ? new VariableTerm(variable)
                : v.Role == VariableRole.Discrete ? new PreviousTerm(variable)
                : v.Start ?? Term.Zero;
        }

        public string NameOf(int variable) => flattener.model.NameOf(variable);

        public Term Fires(Value condition, Position at) => flattener.Fires(instance, condition, at);

        public void AssignedAtEvents(int variable, Position at)
        {
            var v = flattener.model.Variables[variable];
            if (v.Derivative >= 0)
                throw new LanguageException("when", $"'{v.Name}' is a state.", at, $"Write reinit({v.Name}, …).");
            v.Role = VariableRole.Discrete;
        }

        public void Perform(Call call, Binder binder, Term path, bool atEvent)
        {
            if (call.Function == "assert")
            {
                flattener.AddAssertion(instance, call, binder, path);
                return;
            }

            if (call.Function != "reinit")
                throw new LanguageException("call", $"'{call.Function}' cannot stand as a statement here.", call.At);
            if (!atEvent)
                throw new LanguageException("call", "reinit belongs into a when statement.", call.At);
            flattener.AddReinit(instance, call, path);
        }
    }
}
