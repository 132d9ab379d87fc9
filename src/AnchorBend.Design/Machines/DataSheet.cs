namespace AnchorBend.Design.Machines;

/// <summary>A figure that a maker's data sheet gives.</summary>
/// <param name="Unit">The unit that it is taken in where none is typed; null for a count.</param>
/// <param name="Group">What it tells of; figures of one group say the same in different ways, and one of them is enough.</param>
public sealed record SheetFigure(string Name, string Title, string? Unit, string Group);

/// <summary>A value for a parameter.</summary>
/// <param name="Parameter">Name of the parameter of the part.</param>
/// <param name="From">What it was computed from, for people.</param>
/// <param name="Doubt">Where other figures say something else by more than a twentieth; null where none does.</param>
public sealed record SheetValue(string Parameter, double Value, string Unit, string From, string? Doubt = null);

/// <summary>Figures as they were given, in coherent units.</summary>
public sealed class SheetFigures(IReadOnlyDictionary<string, double> given)
{
    public double? this[string name] => given.TryGetValue(name, out var value) ? value : null;
}

/// <summary>How the figures of a machine's data sheet become parameters of its part.</summary>
/// <param name="Kind">What parts name it by.</param>
/// <param name="Compute">The values that the given figures are enough for.</param>
public sealed record DataSheet(string Kind, IReadOnlyList<SheetFigure> Figures, Func<SheetFigures, IReadOnlyList<SheetValue>> Compute);
