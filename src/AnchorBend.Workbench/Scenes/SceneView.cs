using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Scenes;

/// <summary>A point of a body, in its own directions, m.</summary>
public sealed record ScenePoint(double X, double Y);

/// <summary>A force and a torque on a body: signals for where they act, m, and for themselves, N and N·m.</summary>
/// <param name="Force">Two signals in the plane, three in space, in the directions of the surroundings; empty for a torque alone.</param>
/// <param name="Torque">One signal in the plane, towards the reader; three in space, in the directions of the body; or none.</param>
public sealed record SceneForce(string X, string Y, string? Z, IReadOnlyList<string> Force, IReadOnlyList<string> Torque);

/// <summary>Something that stands in the scene and moves by signals of a run.</summary>
/// <param name="Part">Its identity: ids from the root down.</param>
/// <param name="Kind">As the part declares it.</param>
/// <param name="X">Signal of its place along, m.</param>
/// <param name="Angle">Signal of its turn in the plane, rad; null for what has none.</param>
/// <param name="Quaternion">Four signals of its attitude; empty for what stays in the plane.</param>
/// <param name="Points">Its first point and the further ones.</param>
/// <param name="Shapes">What it looks like; empty for the simple shape of its kind.</param>
/// <param name="Size">A radius, or the lengths of a box, m; empty where the shape follows from the points.</param>
public sealed record SceneBody(
    string Part,
    string Name,
    string Kind,
    string X,
    string Y,
    string? Z,
    string? Angle,
    string? X2,
    string? Y2,
    IReadOnlyList<string> Quaternion,
    IReadOnlyList<ScenePoint> Points,
    ScenePoint? Centre,
    IReadOnlyList<double> Size,
    double Thick,
    IReadOnlyList<SceneForce> Forces,
    IReadOnlyList<ShapeNode> Shapes
);

/// <summary>What of a model can be seen moving.</summary>
public sealed record SceneView(IReadOnlyList<SceneBody> Bodies)
{
    /// <summary>More bodies than this are not shown.</summary>
    const int MostBodies = 2000;

    public static SceneView Of(PreparedModel prepared, PartCatalog catalog)
    {
        if (!prepared.CanRun)
            return new SceneView([]);
        var values = new ParameterSet(prepared.Model).Values;
        var bodies = new List<SceneBody>();
        foreach (var place in prepared.Map.Parts)
        {
            if (bodies.Count == MostBodies)
                break;
            if (catalog.Find(place.Node.Type) is null || catalog.Describe(place.Node.Type).Traits.Scene is not { } role)
                continue;
            if (new Reading(prepared, values, place).Body(role) is { } body)
                bodies.Add(body);
        }

        return new SceneView([.. bodies.OrderBy(b => b.Part, StringComparer.Ordinal)]);
    }

    /// <summary>What one part's role comes to, with the numbers of the model.</summary>
    sealed class Reading(PreparedModel prepared, double[] values, PartPlace place)
    {
        public SceneBody? Body(SceneRole role)
        {
            if (!Has(role.X))
                return null;
            return new SceneBody(
                place.Path.ToString(),
                place.Node.Name,
                role.Kind,
                Signal(role.X),
                Signal(role.Y),
                role.Z is null ? null : Signal(role.Z),
                role.Angle is null ? null : Signal(role.Angle),
                role.X2 is null ? null : Signal(role.X2),
                role.Y2 is null ? null : Signal(role.Y2),
                role.Quaternion is null ? [] : [.. Enumerable.Range(1, 4).Select(k => Signal($"{role.Quaternion}[{k}]"))],
                [
                    new ScenePoint(0, 0),
                    .. role.Points.Select(p => p.Split(',')).Where(p => p.Length < 3 || Number(p[2]) != 0).Select(Point),
                ],
                role.Centre is null ? null : Point(role.Centre.Split(',')),
                role.Size is null ? [] : Sizes(role.Size),
                role.Thick is null ? 0 : Number(role.Thick),
                [.. role.Quaternion is null ? PlaneForces(role) : SpaceForces(role)],
                [.. place.Node.Shapes?.Values.OrderBy(s => s.Order) ?? Enumerable.Empty<ShapeNode>()]
            );
        }

        bool Has(string name) => prepared.Find($"{Flat}.{name}") is not null;

        string Flat => prepared.Map.NameOf(place.Path) ?? "";

        string Signal(string name) => $"{place.Path}.{name}";

        IEnumerable<SceneForce> PlaneForces(SceneRole role) =>
            role
                .Forces.Select(f => f.Split(','))
                .Where(f => f.Length < 2 || Number(f[1]) != 0)
                .Select(f => new SceneForce(
                    Signal($"{f[0]}.x"),
                    Signal($"{f[0]}.y"),
                    null,
                    [Signal($"{f[0]}.fx"), Signal($"{f[0]}.fy")],
                    [Signal($"{f[0]}.t")]
                ));

        IEnumerable<SceneForce> SpaceForces(SceneRole role)
        {
            SceneForce At(IReadOnlyList<string> force, IReadOnlyList<string> torque) =>
                new(Signal(role.X), Signal(role.Y), role.Z is null ? null : Signal(role.Z), force, torque);
            foreach (var force in role.Forces)
                yield return At(Three(force), []);
            if (role.Torque is { } t)
                yield return At([], Three(t));
        }

        string[] Three(string name) => [.. Enumerable.Range(1, 3).Select(k => Signal($"{name}[{k}]"))];

        ScenePoint Point(string[] names) => new(Number(names[0]), Number(names[1]));

        double Number(string name) =>
            prepared.Find($"{Flat}.{name}") is { } variable && values[variable.Index] is var value && double.IsFinite(value) ? value : 0;

        IReadOnlyList<double> Sizes(string name) =>
            Has(name) ? [Number(name)] : [.. Enumerable.Range(1, 3).Where(k => Has($"{name}[{k}]")).Select(k => Number($"{name}[{k}]"))];
    }
}
