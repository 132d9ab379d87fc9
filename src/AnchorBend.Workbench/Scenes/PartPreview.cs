using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Workbench.Scenes;

/// <summary>Boxes or tubes of a part's picture, one or a regular array of them.</summary>
/// <param name="Form">box or tube.</param>
/// <param name="Role">metal, fin, shell: what it is made of.</param>
/// <param name="At">The middle of the first one: along the width, upwards, along the depth, m.</param>
/// <param name="Size">Lengths of a box; of a tube its diameter twice over and its length in the direction of its axis, m.</param>
/// <param name="Axis">Along which direction a tube lies: 0, 1, 2.</param>
/// <param name="Count">How many stand in each direction.</param>
/// <param name="Step">How far apart they are, m.</param>
public sealed record PreviewSolid(
    string Form,
    string Role,
    IReadOnlyList<double> At,
    IReadOnlyList<double> Size,
    int Axis,
    IReadOnlyList<int> Count,
    IReadOnlyList<double> Step
);

/// <summary>The way of a fluid outside of the part, m.</summary>
/// <param name="Side">first or second.</param>
public sealed record PreviewFlow(string Side, IReadOnlyList<double> From, IReadOnlyList<double> To);

/// <summary>A length that is written at the picture, m.</summary>
public sealed record PreviewLength(string Name, IReadOnlyList<double> From, IReadOnlyList<double> To);

/// <summary>What a part looks like with its parameters, in three dimensions.</summary>
/// <param name="Problem">Why it cannot be built so; null where it can.</param>
public sealed record PartPreview(
    IReadOnlyList<PreviewSolid> Solids,
    IReadOnlyList<PreviewFlow> Flows,
    IReadOnlyList<PreviewLength> Lengths,
    string? Problem
)
{
    /// <summary>Fins, plates and baffles that are drawn at most; more stand as close as they can be told apart.</summary>
    const int MostDrawn = 120;

    /// <returns>Null where the part has no picture.</returns>
    public static PartPreview? Of(PreparedModel prepared, PartCatalog catalog, PartPath path)
    {
        if (
            prepared.Map.Parts.FirstOrDefault(p => p.Path == path) is not { } place
            || catalog.Find(place.Node.Type) is null
            || catalog.Describe(place.Node.Type).Traits.Preview is not { } kind
            || prepared.Map.NameOf(path) is not { } name
        )
            return null;
        var values = prepared.Model.ParameterValues();
        var own = prepared
            .OwnedBy(name)
            .Where(v => v.Role == VariableRole.Parameter)
            .ToDictionary(v => v.Name[(name.Length + 1)..], v => values[v.Index]);
        var problem = prepared.Findings.FirstOrDefault(f => f.Severity == Modeling.Severity.Error && f.Place == path)?.Message;
        if (own.Values.Count(double.IsFinite) == 0)
            return new PartPreview([], [], [], problem);
        return Of(kind, n => own.GetValueOrDefault(n, double.NaN)) with { Problem = problem };
    }

    /// <param name="kind">As parts declare it.</param>
    /// <param name="value">Values of parameters by name, in their own units.</param>
    public static PartPreview Of(string kind, Func<string, double> value) =>
        kind switch
        {
            "doublePipe" => DoublePipe(value),
            "plates" => Plates(value),
            "shell" => Shell(value),
            "finned" => Finned(value),
            "louvred" => Louvred(value),
            _ => new PartPreview([], [], [], null),
        };

    static PreviewSolid Box(string role, double[] at, double[] size, int[]? count = null, double[]? step = null) =>
        new("box", role, at, size, 0, count ?? [1, 1, 1], step ?? [0, 0, 0]);

    static PreviewSolid Tube(string role, double[] at, double diameter, double length, int axis, int[]? count = null, double[]? step = null)
    {
        double[] size = [diameter, diameter, diameter];
        size[axis] = length;
        return new("tube", role, at, size, axis, count ?? [1, 1, 1], step ?? [0, 0, 0]);
    }

    /// <summary>How many of many are drawn, and how far apart, over the same length.</summary>
    static (int Count, double Step) Thinned(double count, double step)
    {
        var drawn = (int)Math.Clamp(double.IsFinite(count) ? count : 1, 1, MostDrawn);
        return (drawn, drawn > 1 ? step * (count - 1) / (drawn - 1) : 0);
    }

    static PartPreview DoublePipe(Func<string, double> v)
    {
        var (length, inner, outer) = (v("L"), v("D") + 2 * v("t"), v("shell"));
        // Pipes are long: what is drawn is a piece of it that shows how thick they are.
        var shown = Math.Min(length, 12 * outer);
        return new(
            [
                Tube("shell", [0, 0, 0], outer, shown, 0),
                Tube("metal", [0, 0, 0], inner, shown * 1.3, 0),
                Tube("shell", [-0.42 * shown, outer * 0.75, 0], outer * 0.5, outer * 0.6, 1),
                Tube("shell", [0.42 * shown, outer * 0.75, 0], outer * 0.5, outer * 0.6, 1),
            ],
            [
                new("first", [-0.95 * shown, 0, 0], [-0.67 * shown, 0, 0]),
                new("second", [0.42 * shown, outer * 2, 0], [0.42 * shown, outer * 1.1, 0]),
            ],
            [new("shell", [0.5 * shown, -outer / 2, outer / 2], [0.5 * shown, outer / 2, outer / 2])],
            null
        );
    }

    static PartPreview Plates(Func<string, double> v)
    {
        var (count, step) = Thinned(v("n"), v("b") + v("t"));
        var (wide, tall, deep) = (v("W"), v("L"), v("height"));
        var whole = tall + 1.6 * v("port");
        var cover = Math.Max(deep * 0.08, wide * 0.04);
        return new(
            [
                Box("shell", [0, 0, -cover / 2], [wide * 1.15, whole * 1.1, cover]),
                Box("shell", [0, 0, deep + cover / 2], [wide * 1.15, whole * 1.1, cover]),
                Box("metal", [0, 0, 0], [wide, whole, Math.Max(v("t"), 0.45 * step)], [1, 1, count], [0, 0, step]),
                .. new[] { -1, 1 }.SelectMany(x =>
                    new[] { -1, 1 }.Select(y => Tube("shell", [x * wide * 0.3, y * tall / 2, deep + 2 * cover], v("port"), cover * 3, 2))
                ),
            ],
            [
                new("first", [-wide * 0.3, -tall / 2, deep + 10 * cover + v("port") * 2], [-wide * 0.3, -tall / 2, deep + 4 * cover]),
                new("second", [wide * 0.3, tall / 2, deep + 10 * cover + v("port") * 2], [wide * 0.3, tall / 2, deep + 4 * cover]),
            ],
            [
                new("W", [-wide / 2, -whole / 2, deep + cover], [wide / 2, -whole / 2, deep + cover]),
                new("L", [wide / 2, -tall / 2, deep + cover], [wide / 2, tall / 2, deep + cover]),
            ],
            null
        );
    }

    static PartPreview Shell(Func<string, double> v)
    {
        var (length, shell, pitch, d) = (v("L"), v("shell"), v("pitch"), v("D"));
        var shown = Math.Min(length, 6 * shell);
        var solids = new List<PreviewSolid>();
        var triangle = v("layout") == 1;
        var rise = triangle ? pitch * Math.Sqrt(3) / 2 : pitch;
        var rows = (int)Math.Clamp(shell / rise / 2, 0, 20);
        var left = (int)Math.Clamp(v("n"), 1, 600);
        // The rows nearest to the middle are filled first.
        for (var i = 0; i <= 2 * rows && left > 0; i++)
        {
            var row = (i % 2 == 0 ? 1 : -1) * ((i + 1) / 2);
            var y = row * rise;
            var half = (shell - d) / 2;
            if (Math.Abs(y) > half)
                continue;
            var reach = Math.Sqrt(half * half - y * y);
            var shift = triangle && row % 2 != 0 ? pitch / 2 : 0;
            var each = (int)((reach - shift) / pitch);
            var count = shift > 0 ? 2 * (each + 1) : 2 * each + 1;
            if (shift > 0 && shift > reach)
                continue;
            count = Math.Min(count, left);
            left -= count;
            solids.Add(Tube("metal", [0, y, -(count - 1) * pitch / 2], d, shown * 1.05, 0, [1, 1, count], [0, 0, pitch]));
        }

        var (baffles, step) = Thinned(Math.Max(1, Math.Floor(shown / v("baffle"))), v("baffle"));
        solids.Add(
            Tube(
                "fin",
                [-(baffles - 1) * step / 2, 0, 0],
                shell * 0.96,
                Math.Min(0.003, step * 0.2 + 1e-4),
                0,
                [baffles, 1, 1],
                [step, 0, 0]
            )
        );
        solids.Add(Tube("shell", [0, 0, 0], shell, shown, 0));
        solids.Add(Tube("shell", [-0.42 * shown, shell * 0.65, 0], shell * 0.4, shell * 0.35, 1));
        solids.Add(Tube("shell", [0.42 * shown, -shell * 0.65, 0], shell * 0.4, shell * 0.35, 1));
        return new(
            solids,
            [
                new("first", [-0.8 * shown, 0, 0], [-0.55 * shown, 0, 0]),
                new("second", [-0.42 * shown, shell * 1.5, 0], [-0.42 * shown, shell * 0.9, 0]),
            ],
            [new("shell", [0.5 * shown, -shell / 2, shell / 2], [0.5 * shown, shell / 2, shell / 2])],
            null
        );
    }

    static PartPreview Finned(Func<string, double> v)
    {
        var (wide, tall, deep) = (v("W"), v("height"), v("depth"));
        var (across, along, d) = (v("across"), v("along"), v("D"));
        var (fins, step) = Thinned(v("count"), v("gap"));
        var (rows, each) = ((int)Math.Clamp(v("rows"), 1, 20), (int)Math.Clamp(v("n"), 1, 100));
        var tubes = Enumerable
            .Range(0, rows)
            .Select(i =>
                Tube(
                    "metal",
                    [0, -tall / 2 + across * (i % 2 == 0 ? 0.25 : 0.75), -deep / 2 + along * (i + 0.5)],
                    d,
                    wide + 2 * d,
                    0,
                    [1, each, 1],
                    [0, across, 0]
                )
            );
        return new(
            [
                Box("fin", [-(fins - 1) * step / 2, 0, 0], [Math.Max(v("thick"), 0.3 * step), tall, deep], [fins, 1, 1], [step, 0, 0]),
                .. tubes,
            ],
            [
                new("first", [wide * 0.9, tall * 0.3, 0], [wide * 0.6, tall * 0.3, 0]),
                new("second", [0, 0, deep * 0.5 + wide * 0.5], [0, 0, deep * 0.5 + wide * 0.15]),
            ],
            [
                new("W", [-wide / 2, -tall / 2, deep / 2], [wide / 2, -tall / 2, deep / 2]),
                new("height", [-wide / 2, -tall / 2, deep / 2], [-wide / 2, tall / 2, deep / 2]),
                new("depth", [wide / 2, -tall / 2, deep / 2], [wide / 2, -tall / 2, -deep / 2]),
            ],
            null
        );
    }

    static PartPreview Louvred(Func<string, double> v)
    {
        var (wide, tall, deep) = (v("W"), v("height"), v("depth"));
        var (flat, fin) = (v("flat"), v("fin"));
        var tubes = (int)Math.Clamp(v("n"), 1, MostDrawn);
        var (fins, step) = Thinned(Math.Floor(wide / v("gap")), v("gap"));
        var pitch = flat + fin;
        return new(
            [
                Box("metal", [0, -tall / 2 + fin + flat / 2, 0], [wide, flat, deep], [1, tubes, 1], [0, pitch, 0]),
                Box(
                    "fin",
                    [-(fins - 1) * step / 2, -tall / 2 + fin / 2, 0],
                    [Math.Max(v("thick"), 0.2 * step), fin * 0.98, deep * 0.95],
                    [fins, tubes + 1, 1],
                    [step, pitch, 0]
                ),
                Box("shell", [-wide / 2 - deep / 4, 0, 0], [deep / 2, tall, deep * 1.1]),
                Box("shell", [wide / 2 + deep / 4, 0, 0], [deep / 2, tall, deep * 1.1]),
            ],
            [
                new("first", [wide * 0.95, tall * 0.35, 0], [wide * 0.6, tall * 0.35, 0]),
                new("second", [0, 0, deep * 0.5 + wide * 0.5], [0, 0, deep * 0.5 + wide * 0.15]),
            ],
            [
                new("W", [-wide / 2, -tall / 2, deep / 2], [wide / 2, -tall / 2, deep / 2]),
                new("height", [-wide / 2 - deep / 2, -tall / 2, deep / 2], [-wide / 2 - deep / 2, tall / 2, deep / 2]),
                new("depth", [wide / 2, -tall / 2, deep / 2], [wide / 2, -tall / 2, -deep / 2]),
            ],
            null
        );
    }
}
