using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Workbench.Runs;

/// <summary>What any variable of a run was at an instant: recorded, or a parameter as it was set then; NaN where the run does not
/// say.</summary>
sealed class RunValues(RunJob job, Trace trace)
{
    readonly IReadOnlyList<int> representative = job.Prepared.Compiled!.Plan.Representative;

    /// <summary>At a time, between two recorded instants on the line between them.</summary>
    public double At(int variable, double time) => Of(variable, time, place => trace.At(place, time));

    /// <summary>In a row of the trace: before or behind an event where it has both sides.</summary>
    public double InRow(int variable, int row) => Of(variable, trace.Times[row], place => trace[row, place]);

    double Of(int variable, double time, Func<int, double> recorded)
    {
        if (variable == FlatModel.TimeIndex)
            return time;
        var place = representative[variable];
        if (trace.Has(place))
            return trace.Rows > 0 ? recorded(place) : double.NaN;
        var constant = RecordedSignal.ConstantOf(job.Prepared, job.Prepared.Model.Variables[variable]);
        return constant >= 0 ? job.ParametersAt(time)[constant] : double.NaN;
    }
}
