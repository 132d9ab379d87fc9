using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>Values that are known before the run. What decides sizes and branches is structural: another value makes another
/// model.</summary>
sealed class StructuralValues(FlatModel model)
{
    /// <summary>The value of a term of parameters; what it reads becomes structural.</summary>
    public double ConstantValue(Term term, Position at)
    {
        if (term is ConstantTerm number)
            return number.Value;
        MarkStructural(term, at);
        return Evaluate(term);
    }

    void MarkStructural(Term term, Position at) => TermBuilder.VisitVariables(term, i =>
        {
            var variable = model.Variables[i];
            if (variable.Role != VariableRole.Parameter)
                throw new LanguageException(
                    "variability",
                    $"A value known before the run is needed here, but '{variable.Name}' changes during it.",
                    at
                );
            if (variable.IsStructural)
                return;
            variable.IsStructural = true;
            if (variable.Binding is not null)
                MarkStructural(variable.Binding, at);
        });

    public double Evaluate(Term term) =>
        new TermEvaluator(i =>
            model.Variables[i] is { Role: VariableRole.Parameter, Binding: { } binding } ? Evaluate(binding) : 0
        ).Evaluate(term);
}
