using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;

namespace AnchorBend.Verification;

/// <summary>Names in the limits of requirements: the parameters of the model.</summary>
sealed class ParameterScope(FlatModel model, ParameterSet parameters) : IScope
{
    public int InitialFlag => FlatModel.InitialFlagIndex;

    public Value Resolve(Reference reference, Func<Expression, int?, Value> subscripts)
    {
        if (model.Find(reference.Path) is { Role: VariableRole.Parameter } parameter)
            return Value.Real(Term.Of(parameters.Values[parameter.Index]));
        var names = model.Variables.Where(v => v.Role == VariableRole.Parameter).Select(v => v.Name);
        throw new LanguageException(
            "unknown-name",
            $"There is no parameter '{reference.Path}'.",
            reference.At,
            Nearest.Of(reference.Path, names) is { } near ? $"Did you mean '{near}'?" : null
        );
    }

    public Term DerivativeOf(int variable, Position at) => throw NotHere(at);

    public double Constant(Term term, Position at) => new TermEvaluator(i => parameters.Values[i]).Evaluate(term);

    public int SampleClock(Term start, Term interval, Position at) => throw NotHere(at);

    public Term Delay(Term source, Term duration, Term? longest, Position at) => throw NotHere(at);

    public int Discrete(string name, Func<int, Term> equation, Position at) => throw NotHere(at);

    static LanguageException NotHere(Position at) => new("variability", "A limit is a value known before the run.", at);
}
