using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Design;

/// <summary>Gains over a quantity as a controller's table has them: straight lines between its rows, the end values outside.</summary>
/// <param name="Quantity">Name of the signal that they follow.</param>
/// <param name="At">Its values, rising.</param>
/// <param name="Columns">By name: k, Ti, Td.</param>
public sealed record GainSchedule(string Quantity, double[] At, IReadOnlyDictionary<string, double[]> Columns)
{
    static readonly string[] Names = ["k", "Ti", "Td"];

    /// <param name="part">Path of a controller of the scheduled kind.</param>
    public static GainSchedule Of(PreparedModel prepared, ParameterSet parameters, string part)
    {
        double[] Row(string name)
        {
            var values = new List<double>();
            while (prepared.Model.Find($"{part}.{name}[{values.Count + 1}]") is { Role: VariableRole.Parameter } v)
                values.Add(parameters.Values[v.Index]);
            return [.. values];
        }

        return new GainSchedule($"{part}.s", Row("at"), Names.ToDictionary(n => n, Row));
    }

    /// <summary>The quantity at an operating point; its first value where there is none.</summary>
    public double QuantityAt(PreparedModel prepared, OperatingPoint? point) =>
        point is not null && prepared.Model.Find(Quantity) is { } v ? point.Values[v.Index] : At[0];

    public bool Has(string name) => Columns.ContainsKey(name);

    /// <summary>A gain at a value of the quantity.</summary>
    public double Value(string name, double quantity)
    {
        var column = Columns[name];
        if (quantity <= At[0])
            return column[0];
        for (var i = 1; i < At.Length; i++)
            if (quantity <= At[i])
                return column[i - 1] + (column[i] - column[i - 1]) * (quantity - At[i - 1]) / (At[i] - At[i - 1]);
        return column[^1];
    }

    /// <summary>The row whose value is nearest to one of the quantity.</summary>
    public int Nearest(double quantity) => Enumerable.Range(0, At.Length).MinBy(i => Math.Abs(At[i] - quantity));
}
