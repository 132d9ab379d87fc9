using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Simulation.Recording;

/// <summary>Variables of a model as a run recorded them: directly, by the one that they equal, or as a constant of the run.</summary>
public static class RecordedSignal
{
    /// <summary>Whether a run says what a variable was.</summary>
    public static bool Has(PreparedModel prepared, Trace trace, FlatVariable variable) =>
        trace.Has(prepared.Compiled!.Plan.Representative[variable.Index]) || IsConstant(prepared, variable);

    /// <summary>Values for every row; NaN where the run does not have them.</summary>
    /// <param name="parameters">Values of all parameters at the start, by index; others that were set on the way are in the trace.</param>
    public static double[] Values(PreparedModel prepared, double[] parameters, Trace trace, FlatVariable variable)
    {
        if (variable.Index == FlatModel.TimeIndex)
            return [.. trace.Times];
        var place = prepared.Compiled!.Plan.Representative[variable.Index];
        if (trace.Has(place))
            return trace.Column(place);
        var constant = ConstantOf(prepared, variable);
        if (constant >= 0 && trace.Constants is { } set)
            return set.Column(constant, trace.Rows);
        var values = new double[trace.Rows];
        Array.Fill(values, constant >= 0 ? parameters[constant] : double.NaN);
        return values;
    }

    static bool IsConstant(PreparedModel prepared, FlatVariable variable) => ConstantOf(prepared, variable) >= 0;

    /// <summary>The parameter that a variable is or equals, by index; −1 for others.</summary>
    public static int ConstantOf(PreparedModel prepared, FlatVariable variable)
    {
        var place = prepared.Compiled!.Plan.Representative[variable.Index];
        return variable.Role == VariableRole.Parameter ? variable.Index
            : prepared.Model.Variables[place].Role == VariableRole.Parameter ? place
            : -1;
    }
}
