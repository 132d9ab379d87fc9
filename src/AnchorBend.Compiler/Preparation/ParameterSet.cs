using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Preparation;

/// <summary>Values for one run: parameters and start values, from a flat model of the same structure as the compiled one.</summary>
public sealed class ParameterSet
{
    /// <param name="overrides">Values by variable index that replace the model's.</param>
    /// <exception cref="ArgumentException">An override makes a parameter zero, or one other than zero, and so asks for another
    /// plan.</exception>
    public ParameterSet(FlatModel model, IReadOnlyDictionary<int, double>? overrides = null)
    {
        Values = model.ParameterValues(overrides);
        if (overrides is not null && ZeroThatChanged(model, model.ParameterValues(), Values) is { } changed)
            throw new ArgumentException(
                $"'{changed.Name}' becomes or ceases to be zero: prepare the model anew with that value, as what depends on what "
                    + $"may change.",
                nameof(overrides)
            );
        var evaluator = new TermEvaluator(i => Values[i]);
        Starts = new double[model.Variables.Count];
        foreach (var variable in model.Variables)
        {
            if (variable.Start is not null)
                Starts[variable.Index] = evaluator.Evaluate(variable.Start);
            else if (variable is { Role: VariableRole.Discrete, Type: Language.Binding.ScalarType.Enumeration })
                Starts[variable.Index] = 1;
        }
    }

    ParameterSet(double[] values, double[] starts) => (Values, Starts) = (values, starts);

    /// <summary>A set with these values of parameters, by index, as another set of the same model had them.</summary>
    public static ParameterSet Of(FlatModel model, double[] values) => new([.. values], new ParameterSet(model).Starts);

    /// <summary>The same with other start values, by name.</summary>
    internal ParameterSet StartingAt(FlatModel model, IReadOnlyDictionary<string, double> values)
    {
        var starts = (double[])Starts.Clone();
        foreach (var (name, value) in values)
            if (model.Find(name) is { Role: not VariableRole.Parameter } variable && variable.Index < starts.Length)
                starts[variable.Index] = value;
        return new ParameterSet(Values, starts);
    }

    /// <summary>Values of parameters by variable index.</summary>
    public double[] Values { get; }

    /// <summary>Start values by variable index.</summary>
    public double[] Starts { get; }

    /// <summary>The first parameter that is zero in one set of values alone. Plans leave out products with zeros, and loops are torn
    /// around them.</summary>
    internal static FlatVariable? ZeroThatChanged(FlatModel model, double[] before, double[] after) =>
        model.Variables.FirstOrDefault(v =>
            v is { Role: VariableRole.Parameter, IsPlayed: false } && before[v.Index] == 0 != (after[v.Index] == 0)
        );

    /// <summary>Fills a run's memory.</summary>
    internal unsafe void Load(CompiledPlan plan, double* memory)
    {
        foreach (var variable in plan.Plan.Model.Variables)
            // Derivatives that index reduction added have no values of their own here.
            memory[variable.Index] =
                variable.Index >= Values.Length ? 0
                : variable.Role == VariableRole.Parameter ? Values[variable.Index]
                : Starts[variable.Index];
        var evaluator = new TermEvaluator(i => Values[i]);
        for (var i = 0; i < plan.Layout.Hoisted.Count; i++)
            memory[plan.Layout.HoistBase + i] = evaluator.Evaluate(plan.Layout.Hoisted[i]);
        foreach (var discrete in plan.Plan.Discretes)
            memory[plan.Layout.PreviousBase + plan.Plan.DiscreteSlot[discrete]] = Starts[discrete];
    }
}
