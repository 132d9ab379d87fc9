using System.Globalization;
using System.Text;
using AnchorBend.Interchange.Sheets;
using AnchorBend.Workbench.Studies;

namespace AnchorBend.Cli;

/// <summary>The table of many runs as files: one column a factor, one a measure, under their names.</summary>
sealed class StudyFile
{
    readonly List<ResultColumn> columns;
    readonly int rows;

    StudyFile(List<ResultColumn> columns, int rows) => (this.columns, this.rows) = (columns, rows);

    public static StudyFile Of(
        IReadOnlyList<StudyFactor> factors,
        IReadOnlyList<StudyMeasure> measures,
        IReadOnlyList<StudyCell[]> cells,
        IReadOnlyList<StudyResult> results,
        IReadOnlyList<string>? judged = null
    )
    {
        var columns = new List<ResultColumn> { new("run", "", [.. results.Select(r => r.Index + 1.0)], null) };
        for (var i = 0; i < factors.Count; i++)
        {
            List<StudyCell> of = [.. results.Select(r => cells[r.Index][i])];
            columns.Add(
                of.TrueForAll(c => c.Number is not null)
                    ? new ResultColumn(factors[i].Path, factors[i].Unit, [.. of.Select(c => c.Number!.Value)], null)
                    : new ResultColumn(factors[i].Path, "", null, [.. of.Select(c => c.Text)])
            );
        }

        for (var i = 0; i < measures.Count; i++)
            columns.Add(new ResultColumn(measures[i].Name, UnitOf(i), [.. results.Select(r => r.Measures[i] ?? double.NaN)], null));
        string UnitOf(int i) => results.Select(r => r.Units?[i]).FirstOrDefault(u => u is not null) ?? "";
        for (var i = 0; i < (judged?.Count ?? 0); i++)
            columns.Add(
                new ResultColumn(
                    judged![i] + ", margin",
                    "",
                    [.. results.Select(r => i < r.Verdicts.Count ? r.Verdicts[i].Margin ?? double.NaN : double.NaN)],
                    null
                )
            );
        columns.Add(new ResultColumn("problem", "", null, [.. results.Select(r => r.Problem?.ReplaceLineEndings(" ") ?? "")]));
        return new StudyFile(columns, results.Count);
    }

    public void Write(FileInfo? csv, FileInfo? parquet, CancellationToken cancellation)
    {
        if (parquet is not null)
        {
            using var file = parquet.Create();
            ResultColumns.WriteParquet(columns, file, cancellation).GetAwaiter().GetResult();
            if (csv is null)
                return;
        }

        if (csv is null || csv.Name == "-")
            Console.Write(Csv());
        else
            File.WriteAllText(csv.FullName, Csv());
    }

    /// <summary>Numbers to the last bit, so that tables can be compared.</summary>
    string Csv()
    {
        static string Cell(string text) =>
            text.IndexOfAny([',', '"', '\n', '\r']) < 0 ? text : $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
        var table = new StringBuilder();
        table.AppendLine(string.Join(',', columns.Select(c => Cell(c.Name))));
        for (var i = 0; i < rows; i++)
            table.AppendLine(
                string.Join(
                    ',',
                    columns.Select(c =>
                        c.Numbers is { } n
                            ? double.IsNaN(n[i])
                                ? ""
                                : n[i].ToString("R", CultureInfo.InvariantCulture)
                            : Cell(c.Texts![i])
                    )
                )
            );
        return table.ToString();
    }

    /// <summary>Says how many runs have a problem.</summary>
    /// <returns>The code to end with.</returns>
    public static int Failed(IReadOnlyList<StudyResult?> results)
    {
        var failed = results.Count(r => r?.Problem is not null);
        if (failed > 0)
            Console.Error.WriteLine($"error: {failed} of {results.Count} runs have a problem; the last column says which.");
        return failed > 0 ? 1 : 0;
    }
}
