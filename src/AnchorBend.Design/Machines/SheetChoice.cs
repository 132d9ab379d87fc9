using System.Globalization;

namespace AnchorBend.Design.Machines;

/// <summary>Takes the first way to a value that the figures allow, and tells where another way would lead elsewhere.</summary>
sealed class SheetChoice(string parameter, string unit)
{
    /// <summary>Ways that differ by more than this part contradict each other.</summary>
    const double Apart = 0.05;

    SheetValue? chosen;

    /// <summary>One more way; null where a figure it needs was not given, or it leads to no value that a machine has.</summary>
    public SheetChoice Or(double? value, string from)
    {
        if (value is not { } number || !double.IsFinite(number) || number <= 0)
            return this;
        if (chosen is null)
            chosen = new SheetValue(parameter, number, unit, from);
        else if (chosen.Doubt is null && Math.Abs(number - chosen.Value) > Apart * Math.Abs(chosen.Value))
            chosen = chosen with { Doubt = $"{from} would say {number.ToString("G4", CultureInfo.InvariantCulture)} {unit}." };
        return this;
    }

    public SheetValue? Value => chosen;
}
