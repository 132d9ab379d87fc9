using System.Globalization;
using AnchorBend.Design;
using AnchorBend.Design.Stores;
using AnchorBend.Interchange.Traces;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;

namespace AnchorBend.Workbench.Parts;

/// <summary>A measured pulse test of a cell.</summary>
/// <param name="Text">A table with columns of time, current in a unit of A and voltage in a unit of V.</param>
/// <param name="Capacity">As it is typed; a bare number is in coulombs.</param>
/// <param name="Start">State of charge at its beginning, 0 to 1.</param>
/// <param name="Temperature">As it is typed; a bare number is in kelvins.</param>
public sealed record PulseTestOrder(string Text, string Capacity, double Start, int Branches, string Temperature);

/// <summary>The tables of a cell that follow from a pulse test.</summary>
/// <param name="Parameters">Texts of fields by parameter.</param>
/// <param name="Points">Points of the tables.</param>
/// <param name="Doubts">What makes the figures less sure than they look.</param>
/// <param name="Worst">Largest root of the mean square between a rest and its fit, V.</param>
public sealed record PulseTestAnswer(
    IReadOnlyDictionary<string, string> Parameters,
    IReadOnlyList<PulsePoint> Points,
    IReadOnlyList<double> TimeConstants,
    double Worst,
    IReadOnlyList<string> Doubts
);

/// <summary>Makes tables of cells from measured pulse tests.</summary>
public sealed class PulseTests(ComputeGate compute)
{
    const int MostSamples = 200_000;

    static readonly TimeSpan MostFitting = TimeSpan.FromSeconds(20);

    /// <exception cref="DesignException">The table holds no pulse test; says why.</exception>
    /// <exception cref="DocumentException">It is no table.</exception>
    public PulseTestAnswer Fit(PulseTestOrder order, CancellationToken wanted)
    {
        var capacity = Number(order.Capacity, "C") ?? throw Refused("The capacity cannot be read.", "Type it as a charge, such as 20 Ah.");
        var temperature = Number(order.Temperature, "K") ?? throw Refused("The temperature cannot be read.", "Type it as 25 degC.");
        using var file = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(order.Text));
        var table = compute.Run(MostFitting, wanted, _ => CsvRunTable.Read(file));
        if (table.Times.Length > MostSamples)
            throw Refused($"The test has {table.Times.Length:N0} samples; at most {MostSamples:N0} are taken.", "Thin it out.");
        var (current, voltage) = (Column(table, "A", "current"), Column(table, "V", "voltage"));
        var fit = compute.Run(MostFitting, wanted, _ =>
            PulseTest.Fit(table.Times, current, voltage, capacity, order.Start, order.Branches)
        );
        if (fit.Points.Count < 2)
            throw Refused("The test has pulses at one state of charge.", "A table needs two at least.");
        return new PulseTestAnswer(Parameters(fit, temperature), fit.Points, fit.TimeConstants, fit.Worst, fit.Doubts);
    }

    static DesignException Refused(string message, string advice) => new("pulse-test", message, advice);

    static double? Number(string? text, string unit) => text is null ? null : TypedValue.Number(text, Unit.Parse(unit));

    /// <summary>The one column in a unit that fits.</summary>
    static double[] Column(RunTable table, string unit, string what)
    {
        var own = Unit.Parse(unit);
        var fitting = table.Columns.Where(c => Unit.TryParse(c.Unit, out var told, out var problem) && told.Fits(own)).ToList();
        if (fitting.Count != 1)
            throw Refused(
                $"The table has {fitting.Count} columns that could be the {what}.",
                $"Title one column with its unit, such as '{what} [{unit}]', and leave others out."
            );
        var told = Unit.Parse(fitting[0].Unit);
        return [.. fitting[0].Values.Select(v => told.ConvertTo(own, v))];
    }

    static Dictionary<string, string> Parameters(PulseFit fit, double temperature)
    {
        // Two temperatures with the same values: beyond a table its edges hold.
        string Row(Func<PulsePoint, double> of) =>
            "{" + string.Join(", ", fit.Points.Select(p => $"{{{Text(of(p))}, {Text(of(p))}}}")) + "}";
        var texts = new Dictionary<string, string>
        {
            ["branches"] = fit.TimeConstants.Count.ToString(CultureInfo.InvariantCulture),
            ["socs"] = "{" + string.Join(", ", fit.Points.Select(p => Text(p.Charge))) + "}",
            ["temps"] = $"{{{Text(temperature)}, {Text(temperature + 1)}}}",
            ["ocv"] = Row(p => p.Rest),
            ["R0"] = Row(p => p.Series),
        };
        for (var j = 0; j < 3; j++)
        {
            var branch = j;
            // Tables of branches that are not there keep the size of the others.
            texts[$"R{j + 1}"] = Row(p => branch < p.Branches.Count ? p.Branches[branch] : Least);
            if (j < fit.TimeConstants.Count)
                texts[$"tau{j + 1}"] = Text(fit.TimeConstants[j]);
        }

        return texts;
    }

    /// <summary>A branch without resistance, Ω.</summary>
    const double Least = 1e-9;

    static string Text(double value) =>
        value
            .ToString("G6", CultureInfo.InvariantCulture)
            .Replace("E-0", "e-", StringComparison.Ordinal)
            .Replace("E+0", "e", StringComparison.Ordinal);
}
