using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Rules;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;

namespace AnchorBend.Workbench.Cases;

/// <summary>The courses that show why a requirement came out as it did: those of the signals that it speaks of.</summary>
static class RequirementCourses
{
    const int Most = 4;

    public static IReadOnlyList<DrawnCourse> Of(RequirementNode requirement, PreparedModel ready, ParameterSet parameters, Trace trace)
    {
        var found = new List<DrawnCourse>();
        var seen = new HashSet<int>();
        foreach (var name in Named(requirement))
        {
            if (found.Count == Most || ready.Find(name) is not { } variable || !seen.Add(variable.Index))
                continue;
            if (variable.Index == FlatModel.TimeIndex || !RecordedSignal.Has(ready, trace, variable))
                continue;
            var values = RecordedSignal.Values(ready, parameters.Values, trace, variable);
            if (values.Length == 0 || !values.All(double.IsFinite))
                continue;
            var (coherent, unit) = Units(variable);
            found.Add(
                new DrawnCourse(
                    requirement.Rule is null ? LabelOf(ready, variable) : name,
                    unit.Symbol == "1" ? "" : unit.Symbol,
                    DrawnLine.Of(trace.Times, [.. values.Select(v => coherent.ConvertTo(unit, v))]),
                    ready.RecordedName(variable.Index)
                )
            );
        }

        return found;
    }

    /// <summary>What people call a variable: by its name as a signal, where it has one.</summary>
    public static string LabelOf(PreparedModel ready, FlatVariable variable) =>
        ready.Model.Aliases.Where(a => a.Value == variable.Index).Select(a => a.Key).FirstOrDefault() ?? variable.Name;

    /// <summary>The unit that a variable is computed in, and the one that it is read in.</summary>
    public static (Unit Coherent, Unit Shown) Units(FlatVariable variable)
    {
        var coherent = variable.Unit ?? Unit.One;
        return (coherent, variable.DisplayUnit is { Length: > 0 } d && Unit.TryParse(d, out var shown, out _) ? shown : coherent);
    }

    /// <summary>The limit lines of a verdict in the units that the courses of their signals are drawn in.</summary>
    public static Verdict InShownUnit(Verdict verdict, RequirementNode requirement, PreparedModel ready)
    {
        if (verdict.Lines.Count == 0)
            return verdict;
        var drawn = Named(requirement).Select(ready.Find).OfType<FlatVariable>().ToLookup(v => ready.RecordedName(v.Index));
        return Shown(verdict);

        Verdict Shown(Verdict of) =>
            of with
            {
                Occasions = [.. of.Occasions.Select(Shown)],
                Lines =
                [
                    .. of.Lines.Select(l =>
                        drawn[l.Signal].FirstOrDefault() is { } variable && Units(variable) is var (coherent, unit)
                            ? l with
                            {
                                Value = coherent.ConvertTo(unit, l.Value),
                            }
                            : l
                    ),
                ],
            };
    }

    static IEnumerable<string> Named(RequirementNode requirement)
    {
        if (requirement.Rule is not { } rule)
            return ((string?[])[requirement.Signal, requirement.Reference]).OfType<string>().Where(s => s.Length > 0);
        try
        {
            return RuleParser.NamesIn(rule).Select(n => string.Join('.', n.Steps)).ToList();
        }
        catch (LanguageException)
        {
            // It says itself what is wrong with it.
            return [];
        }
    }
}
