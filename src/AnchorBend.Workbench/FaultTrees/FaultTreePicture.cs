using System.Globalization;
using System.Net;
using System.Text;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.FaultTrees;

/// <summary>
/// A fault tree drawn as SVG: gates with the signs of IEC 60617-12 (&amp;, ≥ 1, ≥ k), basic events as circles, as IEC 61025 has them. What
/// stands below several gates is drawn below each; below the second and later ones a gate is only named.
/// </summary>
public sealed class FaultTreePicture
{
    const int Column = 132,
        Row = 124,
        Margin = 16,
        BoxWidth = 120,
        BoxHeight = 46;

    const string Ink = "stroke=\"#17324d\"";

    /// <summary>Larger trees are no drawing that anybody reads.</summary>
    const int MostPlaces = 600;

    sealed class Placed(string id, int depth)
    {
        public string Id => id;

        public int Depth => depth;

        public double X { get; set; }

        public bool IsAgain { get; set; }

        public List<Placed> Below { get; } = [];
    }

    readonly FaultTreeNode tree;
    readonly FaultTreeView view;
    readonly StringBuilder svg = new();
    readonly HashSet<string> drawn = [];
    int columns;
    int depths;
    int count;

    FaultTreePicture(FaultTreeNode tree, FaultTreeView view) => (this.tree, this.view) = (tree, view);

    /// <param name="view">For the probabilities.</param>
    /// <exception cref="DocumentException">It is too large to be drawn.</exception>
    public static string Of(FaultTreeNode tree, FaultTreeView view) => new FaultTreePicture(tree, view).Drawn();

    string Drawn()
    {
        var top = Place(tree.Top, 0);
        var (width, height) = (Math.Max(1, columns) * Column + 2 * Margin, (depths + 1) * Row + 2 * Margin);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {width} {height}\" width=\"{width}\" height=\"{height}\" "
        );
        svg.Append($"role=\"img\" aria-label=\"Fault tree {Text(tree.Name)}\" font-family=\"IBM Plex Sans, Arial, sans-serif\">");
        svg.Append("<g fill=\"none\" stroke=\"#17324d\" stroke-width=\"1.2\">");
        Lines(top);
        svg.Append("</g>");
        Shapes(top);
        return svg.Append("</svg>").ToString();
    }

    Placed Place(string id, int depth)
    {
        if (++count > MostPlaces)
            throw new DocumentException($"A fault tree of more than {MostPlaces} places is not drawn. Take its table instead.");
        var place = new Placed(id, depth);
        depths = Math.Max(depths, depth);
        var gate = tree.Gates.GetValueOrDefault(id);
        place.IsAgain = gate is not null && !drawn.Add(id);
        if (gate is { Inputs.Count: > 0 } && !place.IsAgain)
        {
            place.Below.AddRange(gate.Inputs.Select(i => Place(i, depth + 1)));
            place.X = (place.Below[0].X + place.Below[^1].X) / 2;
        }
        else
            place.X = Margin + (columns++ + 0.5) * Column;
        return place;
    }

    static double Y(Placed place) => Margin + place.Depth * Row;

    void Lines(Placed place)
    {
        var (y, bar) = (Y(place) + BoxHeight + 28, Y(place) + Row - 14);
        foreach (var below in place.Below)
        {
            svg.Append(CultureInfo.InvariantCulture, $"<path d=\"M{place.X:0.#} {y}V{bar}H{below.X:0.#}V{Y(below)}\"/>");
            Lines(below);
        }
    }

    void Shapes(Placed place)
    {
        var (x, y) = (place.X, Y(place));
        if (tree.Gates.GetValueOrDefault(place.Id) is { } gate)
        {
            Box(x, y, place.IsAgain ? $"{gate.Name}, as above" : gate.Name);
            if (!place.IsAgain)
            {
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<path d=\"M{x:0.#} {y + BoxHeight}v6\" {Ink}/>"
                        + $"<rect x=\"{x - 13:0.#}\" y=\"{y + BoxHeight + 6}\" width=\"26\" height=\"22\" fill=\"#fbfaf6\" {Ink}/>"
                );
                Line(x, y + BoxHeight + 21, Sign(gate), 12, "#17324d");
            }

            if (place.Id == tree.Top && view.Probability is { } all)
                Line(x + 40, y + BoxHeight + 21, Number(all), 11, "#5b6e80");
        }
        else
        {
            var name = tree.Events.GetValueOrDefault(place.Id)?.Name ?? "gone";
            Box(x, y, name);
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path d=\"M{x:0.#} {y + BoxHeight}v6\" {Ink}/>"
                    + $"<circle cx=\"{x:0.#}\" cy=\"{y + BoxHeight + 17}\" r=\"11\" fill=\"#ffffff\" {Ink}/>"
            );
            if (view.Events.TryGetValue(place.Id, out var probability))
                Line(x, y + BoxHeight + 42, Number(probability), 11, "#5b6e80");
        }

        foreach (var below in place.Below)
            Shapes(below);
    }

    static string Sign(TreeGateNode gate) =>
        gate.Kind switch
        {
            "and" => "&",
            "or" => "≥ 1",
            _ => $"≥ {gate.Least}",
        };

    static string Number(double value) => value.ToString("G3", CultureInfo.InvariantCulture);

    void Box(double x, double y, string name)
    {
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<rect x=\"{x - BoxWidth / 2:0.#}\" y=\"{y}\" width=\"{BoxWidth}\" height=\"{BoxHeight}\" fill=\"#ffffff\" {Ink}/>"
        );
        var lines = Wrapped(name);
        for (var i = 0; i < lines.Count; i++)
            Line(x, y + 27 + (i - (lines.Count - 1) / 2.0) * 13, lines[i], 11, "#17324d");
    }

    /// <summary>Up to three lines that fit into a box.</summary>
    static List<string> Wrapped(string name)
    {
        const int fits = 19;
        var lines = new List<string> { "" };
        foreach (var word in name.Split(' ', StringSplitOptions.RemoveEmptyEntries))
            if (lines[^1].Length == 0)
                lines[^1] = word;
            else if (lines[^1].Length + 1 + word.Length <= fits)
                lines[^1] += " " + word;
            else
                lines.Add(word);
        if (lines.Count > 3)
            (lines[2], lines) = (lines[2] + " …", lines[..3]);
        return [.. lines.Select(l => l.Length > fits + 2 ? l[..(fits + 1)] + "…" : l)];
    }

    void Line(double x, double y, string text, int size, string color) =>
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<text x=\"{x:0.#}\" y=\"{y:0.#}\" text-anchor=\"middle\" font-size=\"{size}\" fill=\"{color}\">{Text(text)}</text>"
        );

    /// <summary>Signs that no XML may hold are left out.</summary>
    static string Text(string text) => WebUtility.HtmlEncode(string.Concat(text.Where(c => !char.IsControl(c))));
}
