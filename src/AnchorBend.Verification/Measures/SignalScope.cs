using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Verification.Measures;

/// <summary>Names in expressions over a run: all variables of its model.</summary>
abstract class SignalScope(PreparedModel prepared) : IScope
{
    public int InitialFlag => FlatModel.InitialFlagIndex;

    public Value Resolve(Reference reference, Func<Expression, int?, Value> subscripts)
    {
        var name = string.Join(
            '.',
            reference.Parts.Select(p =>
                p.Subscripts.Count == 0
                    ? p.Name
                    : $"{p.Name}[{string.Join(',', p.Subscripts.Select(s => Constant(subscripts(s, null).ScalarTerm(s.At), s.At)))}]"
            )
        );
        if (prepared.Find(name) is { } variable)
            return Value.Scalar(variable.Type, new VariableTerm(variable.Index));
        if (prepared.Model.AllOf(name).ToList() is { Count: > 0 } elements)
            return new Value(
                elements[0].Variable.Type,
                [elements.Count],
                [.. elements.Select(e => (Term)new VariableTerm(e.Variable.Index))]
            );
        var names = prepared.Model.Variables.Select(v => v.Name).Concat(prepared.Model.Aliases.Keys);
        throw new LanguageException(
            "unknown-name",
            $"There is no signal '{name}'.",
            reference.At,
            Nearest.Of(name, names) is { } near ? $"Did you mean '{near}'?" : "Look it up in the list of signals."
        );
    }

    public Term DerivativeOf(int variable, Position at) =>
        prepared.Model.Variables[variable] is { Derivative: >= 0 and var rate }
            ? new VariableTerm(rate)
            : throw new LanguageException("derivative", "This is no state, so its derivative was not computed.", at);

    public virtual Term WithUnit(Term value, Unit unit) => value;

    public double Constant(Term term, Position at) => new TermEvaluator(i => ValueOf(i, at)).Evaluate(term);

    /// <summary>The value of a variable that is known without an instant.</summary>
    /// <exception cref="LanguageException">It changes during the run.</exception>
    protected abstract double ValueOf(int variable, Position at);

    protected double Parameter(int variable, double[] parameters, Position at) =>
        prepared.Model.Variables[variable].Role == VariableRole.Parameter
            ? parameters[variable]
            : throw new LanguageException(
                "instant",
                $"{prepared.Model.Variables[variable].Name} changes during the run: say at which instant or over which time.",
                at,
                $"For example final({prepared.Model.Variables[variable].Name})."
            );

    public virtual IReadOnlyList<Value>? CallFunction(
        string name,
        IReadOnlyList<Value> arguments,
        IReadOnlyList<(string Name, Value Value)> named,
        Position at
    ) => null;

    public int SampleClock(Term start, Term interval, Position at) => throw NotHere(at);

    public Term Delay(Term source, Term duration, Term? longest, Position at) => throw NotHere(at);

    public int Discrete(string name, Func<int, Term> equation, Position at) => throw NotHere(at);

    static LanguageException NotHere(Position at) =>
        new("variability", "This looks at what a run does; the function makes something new.", at);
}
