using System.CommandLine;
using System.Globalization;
using System.Numerics;
using System.Text.Json;
using AnchorBend.Design.Identification;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend fit</c>: a transfer function for a measured response.</summary>
static class FitCommand
{
    public static Command Create()
    {
        var file = new Argument<FileInfo>("RESPONSE")
        {
            Description = "CSV with columns frequency (rad/s), re, im, as 'response --csv' writes it",
        }.AcceptExistingOnly();
        var order = new Option<int>("--order") { Description = "Order of the denominator, integrators left out", Required = true };
        var zeros = new Option<int>("--zeros") { Description = "Order of the numerator", DefaultValueFactory = _ => 0 };
        var integrators = new Option<int>("--integrators") { Description = "Poles at zero", DefaultValueFactory = _ => 0 };
        var delay = new Option<bool>("--delay") { Description = "Look for a dead time too" };
        var json = new Option<bool>("--json") { Description = "Print JSON" };
        var command = new Command("fit", "Fit a transfer function to a measured frequency response")
        {
            file,
            order,
            zeros,
            integrators,
            delay,
            json,
        };
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        var (frequencies, response) = Read(parsed.GetValue(file)!);
                        var form = new FitForm(
                            parsed.GetValue(zeros),
                            parsed.GetValue(order),
                            parsed.GetValue(integrators),
                            parsed.GetValue(delay)
                        );
                        Print(RationalFit.Of(frequencies, response, form, cancellation), parsed.GetValue(json));
                        return 0;
                    })
                )
        );
        return command;
    }

    /// <exception cref="CommandException">A column is missing or a line holds no numbers.</exception>
    static (List<double> Frequencies, List<Complex> Response) Read(FileInfo file)
    {
        var lines = File.ReadAllLines(file.FullName).Where(l => l.Trim().Length > 0).ToList();
        var names = lines.Count > 0 ? lines[0].Split(',', StringSplitOptions.TrimEntries) : [];
        int Column(string name) =>
            Array.FindIndex(names, n => n.Equals(name, StringComparison.OrdinalIgnoreCase)) is >= 0 and var at
                ? at
                : throw new CommandException($"The first line of {file.Name} names no column '{name}': it needs frequency, re and im.");
        var (f, re, im) = (Column("frequency"), Column("re"), Column("im"));
        var (frequencies, response) = (new List<double>(), new List<Complex>());
        for (var i = 1; i < lines.Count; i++)
        {
            var cells = lines[i].Split(',');
            double Value(int column) =>
                column < cells.Length && double.TryParse(cells[column], NumberStyles.Float, CultureInfo.InvariantCulture, out var v)
                    ? v
                    : throw new CommandException($"Line {i + 1} of {file.Name} has no number in column {column + 1}.");
            frequencies.Add(Value(f));
            response.Add(new Complex(Value(re), Value(im)));
        }

        return (frequencies, response);
    }

    static void Print(RationalFit fit, bool asJson)
    {
        if (asJson)
            Console.WriteLine(
                JsonSerializer.Serialize(
                    new
                    {
                        numerator = fit.Numerator,
                        denominator = fit.Denominator,
                        delay = fit.Delay,
                        quality = fit.Quality,
                        largestError = fit.LargestError,
                        isStable = fit.IsStable,
                    },
                    CommandParts.Json
                )
            );
        else
        {
            if (!fit.IsStable)
                Console.WriteLine("UNSTABLE");
            static string List(IReadOnlyList<double> c) => string.Join(", ", c.Select(x => x.ToString("G6", CultureInfo.InvariantCulture)));
            Console.WriteLine($"b = {{{List(fit.Numerator)}}}");
            Console.WriteLine($"a = {{{List(fit.Denominator)}}}");
            Console.WriteLine(
                FormattableString.Invariant(
                    $"dead time {fit.Delay:G6} s; quality {fit.Quality:F4}, largest error {100 * fit.LargestError:F2} %"
                )
            );
        }
    }
}
