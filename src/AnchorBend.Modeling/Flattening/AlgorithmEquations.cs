using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>Algorithm sections become equations (chapter 11).</summary>
sealed class AlgorithmEquations(Elaborator flat)
{
    readonly FlatModel model = flat.Model;

    /// <summary>Each variable that the section assigns equals the term it ends with.</summary>
    public void Expand(Instance instance, AlgorithmSection section)
    {
        var binder = new Binder(instance.Scope);
        var place = new ModelAlgorithm(flat, instance);
        place.NoteTargets(section.Statements, false);
        if (!section.Initial && AlgorithmSteps.Of(section.Statements, place.Targets, instance.Scope, place) is { } kept)
        {
            Add(kept, instance, section);
            return;
        }

        var run = new AlgorithmExpansion(binder, instance.Scope, place);
        run.Run(section.Statements);
        foreach (var (variable, term) in run.Results)
            (section.Initial ? model.InitialEquations : model.Equations).Add(
                new FlatEquation(new VariableTerm(variable), term, instance.Path, section.At)
            );
    }

    /// <summary>One equation runs the steps, the others take what each variable ends with.</summary>
    void Add(AlgorithmSteps.Result steps, Instance instance, AlgorithmSection section)
    {
        var runs = flat.NewVariable(flat.AuxiliaryName(instance.Path, "steps"), VariableRole.Discrete, ScalarType.Real, instance.Path);
        var after = new VariableTerm(runs.Index);
        model.Equations.Add(new FlatEquation(after, new SequenceTerm(steps.Sequence, steps.Operands), instance.Path, section.At));
        foreach (var (variable, slot) in steps.Targets)
            model.Equations.Add(
                new FlatEquation(new VariableTerm(variable), new SequenceResultTerm(steps.Sequence, slot, after), instance.Path, section.At)
            );
    }

    /// <summary>An algorithm section in a model.</summary>
    sealed class ModelAlgorithm(Elaborator flat, Instance instance) : IAlgorithmPlace
    {
        readonly HashSet<int> targets = [];

        public IReadOnlyCollection<int> Targets => targets;

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
                        var v = flat.Model.Variables[element.Index];
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
            var v = flat.Model.Variables[variable];
            return !targets.Contains(variable) ? new VariableTerm(variable)
                : v.Role == VariableRole.Discrete ? new PreviousTerm(variable)
                : v.Start ?? Term.Zero;
        }

        public string NameOf(int variable) => flat.Model.NameOf(variable);

        public Term Fires(Value condition, Position at) => flat.Whens.Fires(instance, condition, at);

        public void AssignedAtEvents(int variable, Position at)
        {
            var v = flat.Model.Variables[variable];
            if (v.Derivative >= 0)
                throw new LanguageException("when", $"'{v.Name}' is a state.", at, $"Write reinit({v.Name}, …).");
            v.Role = VariableRole.Discrete;
        }

        public void Perform(Call call, Binder binder, Term path, bool atEvent)
        {
            if (call.Function == "assert")
            {
                flat.Equations.AddAssertion(instance, call, binder, path);
                return;
            }

            if (call.Function != "reinit")
                throw new LanguageException("call", $"'{call.Function}' cannot stand as a statement here.", call.At);
            if (!atEvent)
                throw new LanguageException("call", "reinit belongs into a when statement.", call.At);
            flat.Whens.AddReinit(instance, call, path);
        }
    }
}
