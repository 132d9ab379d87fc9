using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using AnchorBend.Interchange.Traces;
using AnchorBend.Modeling.Documents;
using AnchorBend.Verification;
using AnchorBend.Verification.Comparing;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend compare</c>: tells whether two tables of runs are the same within tolerances, and where they part.</summary>
static class CompareCommand
{
    public static Command Create()
    {
        var left = new Argument<FileInfo>("A.csv")
        {
            Description = "A table as run writes it: the time, then a column a quantity",
        }.AcceptExistingOnly();
        var right = new Argument<FileInfo>("B.csv") { Description = "The table that it is compared with" }.AcceptExistingOnly();
        var abs = new Option<double>("--abs") { Description = "Absolute tolerance", DefaultValueFactory = _ => 1e-9 };
        var rel = new Option<double>("--rel")
        {
            Description = "Relative tolerance: |a - b| may be as much as abs + rel max(|a|, |b|)",
            DefaultValueFactory = _ => 1e-6,
        };
        var json = new Option<bool>("--json") { Description = "Print the comparison as JSON" };
        var command = new Command("compare", "Compare two tables of runs; exit code 1 where they part") { left, right, abs, rel, json };
        command.SetAction(parsed =>
            CommandParts.Guarded(() =>
            {
                var tolerance = new Tolerance(parsed.GetValue(abs), parsed.GetValue(rel));
                if (!(tolerance.Absolute >= 0) || !(tolerance.Relative >= 0))
                    throw new CommandException("Tolerances cannot be negative.");
                var comparison = TableComparison.Of(Read(parsed.GetValue(left)!), Read(parsed.GetValue(right)!), tolerance);
                if (parsed.GetValue(json))
                    Console.WriteLine(JsonSerializer.Serialize(comparison, CommandParts.Json));
                else
                    Tell(comparison);
                return comparison.IsSame ? 0 : 1;
            })
        );
        return command;
    }

    static RunTable Read(FileInfo file)
    {
        try
        {
            using var stream = file.OpenRead();
            return CsvRunTable.Read(stream);
        }
        catch (DocumentException e)
        {
            throw new CommandException($"{file.Name}: {e.Message}");
        }
        catch (UnauthorizedAccessException e)
        {
            throw new CommandException($"{file.Name} cannot be read: {e.Message}");
        }
    }

    static void Tell(TableComparison comparison)
    {
        if (comparison.First is { } first)
            Console.WriteLine($"They part at {Number(first.Parts!.Value)} s: {first.Name} first.");
        foreach (var problem in comparison.Problems)
            Console.WriteLine(problem);
        foreach (var q in comparison.Quantities.Where(q => q.Parts is not null))
            Console.WriteLine(
                $"{q.Name}: {Number(q.Largest)} apart at {Number(q.At)} s ({100 * q.Share:G3} % of its range), "
                    + $"from {Number(q.Parts!.Value)} s on"
            );
        if (comparison.IsSame)
            Console.WriteLine($"The same within the tolerances: {comparison.Quantities.Count} quantities.");
    }

    static string Number(double value) => value.ToString("G8", CultureInfo.InvariantCulture);
}
