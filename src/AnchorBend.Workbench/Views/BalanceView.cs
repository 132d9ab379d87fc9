using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Workbench.Views;

/// <summary>Equations and unknowns of a part, with all that is inside it.</summary>
/// <param name="Part">Its id on the level.</param>
/// <param name="Given">Equations that the surroundings give: one for each input and each physical port.</param>
/// <param name="Missing">Unknowns that neither its own equations nor the surroundings determine; negative where there are too many
/// equations.
/// Null where the whole model can run, so that all is determined.</param>
public sealed record PartBalance(string Part, string Name, int Equations, int Unknowns, int Given, int? Missing);

/// <summary>
/// Equations and unknowns of a level and of its parts. A part is balanced when its own equations and those that its ports bring are as many
/// as its unknowns (Modelica Language Specification 3.6, section 4.8).
/// </summary>
public sealed record BalanceView(int Equations, int Unknowns, IReadOnlyList<PartBalance> Parts)
{
    /// <param name="shown">The level's view, whose parts have the ports that are there.</param>
    /// <param name="elaboration">The whole model, with what cannot be computed.</param>
    public static BalanceView Of(Elaboration elaboration, ModelDocument document, PartPath level, ModelView shown)
    {
        var (model, map) = (elaboration.Model, elaboration.Map);
        var name = map.NameOf(level) ?? "";
        var equations = new Dictionary<string, int>();
        var unknowns = new Dictionary<string, int>();
        foreach (var equation in model.Equations)
            if (!ClosesInput(equation, model))
                Count(equations, equation.Owner);
        foreach (var variable in model.Variables)
            if (IsUnknown(variable))
                Count(unknowns, variable.Owner);
        var inputs = model.Variables.Where(v => v.Causality == Causality.Input && IsUnknown(v)).ToLookup(v => v.Owner);
        var closed = model.Equations.Where(e => e is { Left: VariableTerm, Right: ConstantTerm { Value: 0 } }).ToLookup(e => e.Owner);
        var isEven = shown.CanRun && shown.Findings.All(f => f.Code != "left-out");
        var parts = new List<PartBalance>();
        foreach (var (id, part) in document.Level(level)?.Diagram.Parts ?? [])
        {
            if (map.NameOf(level.Then(id)) is not { } path)
                continue;
            var own = name.Length == 0 ? path : path[(name.Length + 1)..];
            var physical = shown.Parts.GetValueOrDefault(id)?.Ports.Where(p => p.Domain is not null).ToList() ?? [];
            // That nothing flows through an open port is said by its surroundings.
            var has = equations.GetValueOrDefault(own) - physical.Sum(p => closed[$"{path}.{p.Name}"].Count());
            var asks = unknowns.GetValueOrDefault(own);
            var given = inputs[path].Count() + physical.Count;
            parts.Add(new PartBalance(id, part.Name, has, asks, given, isEven ? null : asks - has - given));
        }

        return new BalanceView(equations.GetValueOrDefault(""), unknowns.GetValueOrDefault(""), parts);

        // Each counts for the level as a whole, and for the part of it that it is in.
        void Count(Dictionary<string, int> counts, string owner)
        {
            if (name.Length > 0 && owner != name && !owner.StartsWith(name + ".", StringComparison.Ordinal))
                return;
            counts[""] = counts.GetValueOrDefault("") + 1;
            if (owner == name)
                return;
            if (map.Around(owner)?.Path is not { } at || at.Steps.Count <= level.Steps.Count)
                return;
            var path = at;
            while (path.Steps.Count > level.Steps.Count + 1)
                path = path.Above;
            var own = map.NameOf(path)!;
            own = name.Length == 0 ? own : own[(name.Length + 1)..];
            counts[own] = counts.GetValueOrDefault(own) + 1;
        }
    }

    static bool IsUnknown(FlatVariable v) => v.Role is VariableRole.Continuous or VariableRole.Discrete && v.Derivative < 0;

    /// <summary>Whether an equation only says that an input is open.</summary>
    static bool ClosesInput(FlatEquation equation, FlatModel model) =>
        equation.Left is VariableTerm { Index: var index }
        && model.Variables[index] is { Causality: Causality.Input } input
        && input.Owner == equation.Owner;
}
