using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Catalog;

/// <summary>
/// How a part stands in the scene, as its annotation says under <c>scene</c>: which of its variables are its place and its turn, and which
/// parameters its shape. All are names within the part.
/// </summary>
/// <param name="Kind">ground, body, pin, slide, link, rope, strut, wheel, space or frame.</param>
/// <param name="Angle">Turn in the plane; null for what has none.</param>
/// <param name="X2">The other end of what lies between two points.</param>
/// <param name="Quaternion">A vector of four from the body to the surroundings; null for what stays in the plane.</param>
/// <param name="Points">Points of a body: two parameters for each, and a third that says whether it is there.</param>
/// <param name="Centre">Two parameters for the centre of mass.</param>
/// <param name="Size">Parameter for a radius or for the lengths of a box.</param>
/// <param name="Thick">Parameter for the thickness of a body.</param>
/// <param name="Forces">Ports whose forces and torques act on the part, some with a parameter that says whether they are there; in space
/// vectors of three that act where the part is.</param>
/// <param name="Torque">In space, the torque on the part in its own directions, a vector of three.</param>
public sealed record SceneRole(
    string Kind,
    string X,
    string Y,
    string? Z,
    string? Angle,
    string? X2,
    string? Y2,
    string? Quaternion,
    IReadOnlyList<string> Points,
    string? Centre,
    string? Size,
    string? Thick,
    IReadOnlyList<string> Forces,
    string? Torque
)
{
    internal static SceneRole Of(Modification annotation)
    {
        string? Text(string name) => (annotation.Argument(name)?.Value.Binding as StringLiteral)?.Value;
        IReadOnlyList<string> List(string name) => Text(name)?.Split(' ', StringSplitOptions.RemoveEmptyEntries) ?? [];
        return new SceneRole(
            Text("kind") ?? "body",
            Text("x") ?? "x",
            Text("y") ?? "y",
            Text("z"),
            Text("angle"),
            Text("x2"),
            Text("y2"),
            Text("quaternion"),
            List("points"),
            Text("centre"),
            Text("size"),
            Text("thick"),
            List("forces"),
            Text("torque")
        );
    }
}
