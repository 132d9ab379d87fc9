using System.Globalization;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Cases;

/// <summary>
/// What a case expects as a table of cells: a column of time in seconds, and for each signal one of values under its name and unit, with
/// the limits in columns that end in <c>lower</c> and <c>upper</c> where they are given. Each signal keeps its own instants: cells
/// between them are empty. Tolerances of signals stay with the case.
/// </summary>
static class ExpectedTable
{
    const string Time = "time, s",
        LowerEnd = " lower",
        UpperEnd = " upper";

    public static IReadOnlyList<IReadOnlyList<object?>> Rows(ModelDocument document, CaseNode node)
    {
        var columns = new List<(string Head, IReadOnlyList<double> Times, IReadOnlyList<double> Values)>();
        foreach (var course in node.Expected.Values)
        {
            var name = document.NameOf(course.Signal) ?? course.Signal;
            var unit = course.Unit is { Length: > 0 } u ? $", {u}" : "";
            columns.Add((name + unit, course.Times, course.Values));
            if (course.Lower.Count > 0)
                columns.Add((name + LowerEnd + unit, course.Times, course.Lower));
            if (course.Upper.Count > 0)
                columns.Add((name + UpperEnd + unit, course.Times, course.Upper));
        }

        // An instant stands once, or as often as a signal has it: both sides of a jump.
        var instants = columns
            .SelectMany(c => c.Times.GroupBy(t => t).Select(g => (At: g.Key, Count: g.Count())))
            .GroupBy(i => i.At)
            .OrderBy(g => g.Key)
            .SelectMany(g => Enumerable.Repeat(g.Key, g.Max(i => i.Count)));
        var rows = new List<IReadOnlyList<object?>> { (object?[])[Time, .. columns.Select(c => c.Head)] };
        var next = new int[columns.Count];
        foreach (var at in instants)
        {
            var row = new object?[columns.Count + 1];
            row[0] = at;
            for (var i = 0; i < columns.Count; i++)
                if (next[i] < columns[i].Times.Count && columns[i].Times[next[i]] == at)
                    row[i + 1] = columns[i].Values[next[i]++];
            rows.Add(row);
        }

        return rows;
    }

    /// <exception cref="DocumentException">It is no such table.</exception>
    public static Dictionary<string, ExpectedNode> Read(ModelDocument document, CaseNode node, IReadOnlyList<IReadOnlyList<object?>> cells)
    {
        if (cells.Count < 2)
            throw new DocumentException("The table needs a first row with names and one or more with values.");
        List<string> heads = [.. cells[0].Select(Text)];
        var time = heads.FindIndex(h => h.Split(',')[0].Trim().Equals("time", StringComparison.OrdinalIgnoreCase));
        if (time < 0)
            throw new DocumentException("No column is called 'time, s'.");
        var read = new Dictionary<string, ExpectedNode>();
        for (var column = 0; column < heads.Count; column++)
        {
            if (column == time || heads[column].Length == 0 || IsLimit(heads[column]))
                continue;
            var (name, unit) = Head(heads[column]);
            var known = node.Expected.FirstOrDefault(e => e.Value.Signal == name || document.NameOf(e.Value.Signal) == name);
            var (times, values) = Column(cells, time, column);
            var course = (known.Value ?? new ExpectedNode { Signal = name }) with
            {
                Unit = unit.Length > 0 ? Checked(unit) : known.Value?.Unit,
                Times = times,
                Values = values,
                Lower = Limit(name + LowerEnd),
                Upper = Limit(name + UpperEnd),
            };
            var id = known.Key;
            for (var n = read.Count + 1; id is null; n++)
                if (!read.ContainsKey($"e{n}") && !node.Expected.ContainsKey($"e{n}"))
                    id = $"e{n}";
            read[id] = course;
            IReadOnlyList<double> Limit(string head)
            {
                var place = heads.FindIndex(h => Head(h).Name == head);
                if (place < 0)
                    return [];
                var (limitTimes, limits) = Column(cells, time, place);
                return limitTimes.SequenceEqual(times)
                    ? limits
                    : throw new DocumentException($"'{DocumentLimits.Short(head)}' has not a value at each instant of its signal.");
            }
        }

        return read.Count > 0 ? read : throw new DocumentException("The table has no column of a signal beside that of time.");
    }

    static bool IsLimit(string head) =>
        Head(head).Name is var name
        && (name.EndsWith(LowerEnd, StringComparison.Ordinal) || name.EndsWith(UpperEnd, StringComparison.Ordinal));

    /// <summary>Name and unit of a heading such as <c>gate.opening, m</c>.</summary>
    static (string Name, string Unit) Head(string text) =>
        text.LastIndexOf(", ", StringComparison.Ordinal) is > 0 and var cut
            ? (text[..cut].Trim(), text[(cut + 2)..].Trim())
            : (text.Trim(), "");

    static string Checked(string unit) =>
        Unit.TryParse(unit, out _, out _) ? unit : throw new DocumentException($"'{DocumentLimits.Short(unit)}' is no unit.");

    static (double[] Times, double[] Values) Column(IReadOnlyList<IReadOnlyList<object?>> cells, int time, int column)
    {
        var (times, values) = (new List<double>(), new List<double>());
        for (var row = 1; row < cells.Count; row++)
        {
            if (column >= cells[row].Count || Text(cells[row][column]).Length == 0)
                continue;
            times.Add(Number(cells[row], time, row));
            values.Add(Number(cells[row], column, row));
        }

        return ([.. times], [.. values]);
    }

    static double Number(IReadOnlyList<object?> row, int column, int line) =>
        column < row.Count
        && double.TryParse(Text(row[column]), NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
        && double.IsFinite(value)
            ? value
            : throw new DocumentException($"Row {line + 1}, column {column + 1} of the table is no number.");

    static string Text(object? cell) => Convert.ToString(cell, CultureInfo.InvariantCulture)?.Trim() ?? "";
}
