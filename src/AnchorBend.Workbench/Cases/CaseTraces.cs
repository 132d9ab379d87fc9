using AnchorBend.Interchange.Traces;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Workbench.Cases;

/// <summary>What goes in and comes out of the parts of a model in the run of a case, as a table.</summary>
public static class CaseTraces
{
    /// <param name="session">At its end.</param>
    public static RunTable Of(RunSession session)
    {
        var (prepared, trace) = (session.Prepared, session.Trace);
        var columns = new List<RunColumn>();
        foreach (var place in prepared.Map.Parts.Where(p => p.Path.Above.IsRoot))
        foreach (var variable in prepared.Map.NameOf(place.Path) is { } owner ? prepared.OwnedBy(owner) : [])
        {
            if (variable.IsProtected || variable.Role is not (VariableRole.Continuous or VariableRole.Discrete))
                continue;
            if (!RecordedSignal.Has(prepared, trace, variable))
                continue;
            var values = RecordedSignal.Values(prepared, session.Parameters.Values, trace, variable);
            var (coherent, unit) = RequirementCourses.Units(variable);
            columns.Add(
                new RunColumn(variable.Name, unit.Symbol == "1" ? "" : unit.Symbol, [.. values.Select(v => coherent.ConvertTo(unit, v))])
            );
        }

        return new RunTable([.. trace.Times], columns);
    }
}
