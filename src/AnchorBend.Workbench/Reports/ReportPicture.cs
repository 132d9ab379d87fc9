using System.Globalization;
using System.Text;
using AnchorBend.Workbench.Cases;

namespace AnchorBend.Workbench.Reports;

/// <summary>Small plots of reports as SVG: lines over time, a band of what is allowed, an instant that decides.</summary>
static class ReportPicture
{
    const int Width = 560,
        Height = 150,
        Left = 58,
        Right = 8,
        Top = 8,
        Bottom = 22;

    static readonly string[] Colors = ["#0072B2", "#E69F00", "#009E73", "#CC79A7"];

    /// <param name="title">What it shows, for who cannot see it.</param>
    /// <param name="lower">The limits of a band; none without instants.</param>
    public static string Of(
        string title,
        string unit,
        IReadOnlyList<(string Label, Line Line)> lines,
        Line lower,
        Line upper,
        Line expected,
        double? at
    )
    {
        var all = lines.Select(l => l.Line).Concat([lower, upper, expected]).Where(l => l.Times.Count > 0).ToList();
        if (all.Count == 0)
            return "";
        double from = all.Min(l => l.Times[0]),
            to = all.Max(l => l.Times[^1]),
            low = all.Min(l => l.Values.Min()),
            high = all.Max(l => l.Values.Max());
        if (to <= from)
            to = from + 1;
        var air = high > low ? 0.06 * (high - low) : Math.Max(1e-9, Math.Abs(high) * 0.1);
        (low, high) = (low - air, high + air);
        double X(double t) => Left + (Width - Left - Right) * (t - from) / (to - from);
        double Y(double v) => Height - Bottom - (Height - Top - Bottom) * (v - low) / (high - low);
        var svg = new StringBuilder();
        svg.Append($"<svg viewBox=\"0 0 {Width} {Height}\" width=\"{Width}\" height=\"{Height}\" ")
            .Append($"role=\"img\" aria-label=\"{ReportHtml.Text(title)}\">");
        foreach (var v in Marks(low, high))
            svg.Append(CultureInfo.InvariantCulture, $"<path class=\"g\" d=\"M{Left} {Y(v):0.#}H{Width - Right}\"/>")
                .Append(CultureInfo.InvariantCulture, $"<text class=\"e\" x=\"{Left - 5}\" y=\"{Y(v) + 4:0.#}\">{N(v)}</text>");
        foreach (var t in Marks(from, to))
            svg.Append(CultureInfo.InvariantCulture, $"<path class=\"g\" d=\"M{X(t):0.#} {Top}V{Height - Bottom}\"/>")
                .Append(CultureInfo.InvariantCulture, $"<text class=\"c\" x=\"{X(t):0.#}\" y=\"{Height - 7}\">{N(t)}</text>");
        svg.Append(CultureInfo.InvariantCulture, $"<text x=\"2\" y=\"{Top + 9}\">{ReportHtml.Text(unit)}</text>");
        if (lower.Times.Count > 0 && upper.Times.Count > 0)
            svg.Append("<path class=\"band\" d=\"M")
                .Append(Points(lower, X, Y, false))
                .Append('L')
                .Append(Points(upper, X, Y, true))
                .Append("Z\"/>");
        if (expected.Times.Count > 0)
            svg.Append("<path class=\"want\" d=\"M").Append(Points(expected, X, Y, false)).Append("\"/>");
        for (var i = 0; i < lines.Count; i++)
            if (lines[i].Line.Times.Count > 0)
                svg.Append($"<path class=\"l\" stroke=\"{Colors[i % Colors.Length]}\" d=\"M")
                    .Append(Points(lines[i].Line, X, Y, false))
                    .Append("\"/>");
        if (at is { } instant && instant >= from && instant <= to)
            svg.Append(CultureInfo.InvariantCulture, $"<path class=\"at\" d=\"M{X(instant):0.#} {Top}V{Height - Bottom}\"/>");
        svg.Append("</svg><p class=\"names\">");
        for (var i = 0; i < lines.Count; i++)
            svg.Append($"<span><i style=\"background:{Colors[i % Colors.Length]}\"></i>{ReportHtml.Text(lines[i].Label)}</span>");
        return svg.Append("</p>").ToString();
    }

    static string Points(Line line, Func<double, double> x, Func<double, double> y, bool backwards)
    {
        var points = line.Times.Zip(line.Values, (t, v) => string.Create(CultureInfo.InvariantCulture, $"{x(t):0.##} {y(v):0.##}"));
        return string.Join('L', backwards ? points.Reverse() : points);
    }

    static string N(double value) => value.ToString("G4", CultureInfo.InvariantCulture);

    /// <summary>Round values, three to six of them.</summary>
    static IEnumerable<double> Marks(double from, double to)
    {
        var step = Math.Pow(10, Math.Floor(Math.Log10((to - from) / 3)));
        step *= ((double[])[1, 2, 5, 10]).First(f => (to - from) / (f * step) <= 6);
        for (var i = Math.Ceiling(from / step); i * step <= to; i++)
            yield return Math.Round(i * step, 12);
    }
}
