using System.Globalization;
using AnchorBend.Exploration;
using AnchorBend.Exploration.Factors;

namespace AnchorBend.Workbench.Studies;

/// <summary>Factors that are drawn together.</summary>
/// <param name="Correlation">Of any two of them (<see cref="CorrelatedShares"/>).</param>
public sealed record FactorGroup(string Name, double Correlation)
{
    /// <summary>Groups among factors, with their places.</summary>
    /// <exception cref="ExplorationException">So many cannot have such a correlation.</exception>
    public static IReadOnlyList<CorrelatedShares> Of(IReadOnlyList<StudyFactor> factors)
    {
        var groups = new List<CorrelatedShares>();
        foreach (var group in factors.Select((f, i) => (f.Group, Place: i)).Where(f => f.Group is not null).GroupBy(f => f.Group))
        {
            var together = new CorrelatedShares([.. group.Select(f => f.Place)], group.Key!.Correlation);
            together.Check(group.Key.Name);
            groups.Add(together);
        }

        return groups;
    }
}

/// <summary>What varies in a study of a model: a parameter by its path, with texts as they are typed.</summary>
/// <param name="Path">Of the parameter in the flat model, slots and options too; or a setting of runs (<see cref="RowSettings"/>).</param>
/// <param name="Texts">Of a list; null for numbers.</param>
/// <param name="Unit">Of its numbers, as it was typed; empty for none.</param>
public sealed record StudyFactor(string Path, FactorSpread Spread, IReadOnlyList<string>? Texts, string Unit)
{
    /// <summary>By what the factor is known in its study; the path where nobody says.</summary>
    public string Id { get; init; } = Path;

    /// <summary>What people call it.</summary>
    public string Label { get; init; } = Path;

    /// <summary>Whether it is drawn anew for every run, as a tolerance.</summary>
    public bool IsDrawn { get; init; }

    /// <summary>What it varies in the model, by identity; the path where nobody says.</summary>
    public string Target { get; init; } = Path;

    /// <summary>The group that it is drawn with; null where it varies by itself.</summary>
    public FactorGroup? Group { get; init; }

    /// <summary>Numbers of a list; null where one of them is none.</summary>
    public IReadOnlyList<double>? Numbers { get; init; }

    public Factor Factor => new(Path, Spread);

    /// <summary>The text that sets a level.</summary>
    public string TextOf(FactorLevel level) => level.Number is { } number ? Typed(number) : Texts![level.Place];

    string Typed(double number) => number.ToString("R", CultureInfo.InvariantCulture) + (Unit.Length > 0 ? " " + Unit : "");

    public StudyCell CellOf(FactorLevel level) => new(TextOf(level), level.Number ?? Numbers?[level.Place]);

    /// <summary>A value that was typed by hand; a bare number is meant in the factor's unit.</summary>
    public StudyCell CellOf(string text) =>
        new(
            Unit.Length > 0 && double.TryParse(text, CultureInfo.InvariantCulture, out _) ? $"{text.Trim()} {Unit}" : text,
            FactorText.NumberIn(text, Unit)
        );

    /// <summary>Reads what varies: a path, <c>=</c> and values (<see cref="FactorText"/>).</summary>
    /// <exception cref="ExplorationException">It cannot be read.</exception>
    /// <param name="present">What a parameter has now, for tolerances about it.</param>
    public static StudyFactor Parse(string text, Func<string, string?>? present = null)
    {
        var equal = text.IndexOf('=', StringComparison.Ordinal);
        return equal <= 0 || equal == text.Length - 1
            ? throw FactorText.Unread(text, "a name, '=' and values are needed")
            : FactorText.Read(text[..equal].Trim(), text[(equal + 1)..].Trim(), present?.Invoke(text[..equal].Trim()));
    }
}
