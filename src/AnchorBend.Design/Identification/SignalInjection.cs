using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Design.Identification;

/// <summary>A model in which a sine and a level are added to a signal wherever it is used: what tests of the running model need.</summary>
public sealed class SignalInjection
{
    /// <summary>Names of what is added; no name of a model has such a sign in it.</summary>
    const string AmplitudeName = "$amplitude",
        FrequencyName = "$frequency",
        SinceName = "$since";

    /// <summary>The parameter that is added as it is, which tests set on their way.</summary>
    public const string Level = "$level";

    /// <summary>The signal with what is added to it.</summary>
    public const string Excited = "$excited";

    readonly int amplitude,
        frequency,
        since,
        level;

    /// <param name="signal">Name of the signal.</param>
    /// <exception cref="DesignException">Nothing can be added there.</exception>
    public SignalInjection(PreparedModel prepared, string signal)
    {
        var source = prepared.Find(signal) ?? throw Linearizer.Unknown(prepared.Model, signal);
        if (source.Type != ScalarType.Real || source.Role is not (VariableRole.Continuous or VariableRole.Discrete))
            throw new DesignException("signal", $"'{signal}' is no signal to which something can be added.", "Take a real signal.");
        var model = prepared.Model.Copy();
        int Add(FlatVariable variable)
        {
            model.Variables.Add(variable);
            return variable.Index;
        }

        amplitude = Add(FlatVariable.Played(model.Variables.Count, AmplitudeName, 0));
        frequency = Add(FlatVariable.Played(model.Variables.Count, FrequencyName, 1));
        since = Add(FlatVariable.Played(model.Variables.Count, SinceName, 0));
        level = Add(FlatVariable.Played(model.Variables.Count, Level, 0));
        var excited = Add(new FlatVariable(model.Variables.Count, Excited, VariableRole.Continuous, ScalarType.Real));
        var wave = TermBuilder.Multiply(
            new VariableTerm(amplitude),
            TermBuilder.Unary(
                Operator.Sin,
                TermBuilder.Multiply(
                    new VariableTerm(frequency),
                    TermBuilder.Subtract(new VariableTerm(FlatModel.TimeIndex), new VariableTerm(since))
                )
            )
        );
        var equations = LoopOpening.Replace(model, [.. model.Equations], source, new VariableTerm(excited));
        model.Equations.Clear();
        model.Equations.AddRange(equations);
        model.Equations.Add(
            new FlatEquation(
                new VariableTerm(excited),
                TermBuilder.Add(new VariableTerm(source.Index), TermBuilder.Add(wave, new VariableTerm(level))),
                source.Owner,
                source.At
            )
        );
        Prepared = PreparedModel.Prepare(model, [], prepared.Map);
        if (!Prepared.CanRun)
            throw new DesignException(
                "signal",
                $"With something added to '{signal}' the model has no solution: "
                    + (Prepared.Findings.FirstOrDefault(f => f.Severity == Severity.Error)?.Message ?? ""),
                "Take another signal of the loop."
            );
        Signal = source.Name;
    }

    public PreparedModel Prepared { get; }

    /// <summary>Name of the signal as it was, before anything is added.</summary>
    public string Signal { get; }

    /// <summary>Values of the parameters with an excitation.</summary>
    /// <param name="own">Values of the model's own parameters by index.</param>
    /// <param name="height">Of the sine.</param>
    /// <param name="speed">rad/s.</param>
    /// <param name="start">Where it passes zero upwards, s.</param>
    public ParameterSet Values(double[] own, double height, double speed, double start)
    {
        var values = Prepared.Model.ParameterValues();
        own.AsSpan(0, Math.Min(own.Length, values.Length)).CopyTo(values);
        (values[amplitude], values[frequency], values[since]) = (height, speed, start);
        return ParameterSet.Of(Prepared.Model, values);
    }
}
