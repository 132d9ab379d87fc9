namespace AnchorBend.Modeling.Documents;

/// <summary>What a shape is made of.</summary>
public enum ShapeKind
{
    Box,
    Cylinder,
    Cone,

    /// <summary>An outline in the plane of its frame, drawn out across it.</summary>
    Extrusion,

    /// <summary>A round bar between two points of its frame.</summary>
    Tube,
    Text,

    /// <summary>Triangles from a file.</summary>
    Mesh,
}

/// <summary>What a shape stands for, which sets its colour.</summary>
public enum ShapeInk
{
    Face,
    Steel,
    Oil,
    Water,
    Land,
    Wood,
    Signal,
}

/// <summary>Three coordinates of a frame, m; as a turn, angles about its axes one after the other, degrees.</summary>
public sealed record Triple(double X, double Y, double Z);

/// <summary>
/// A shape that a part carries in the scene, in the part's own directions: x along, y across and z towards the reader for what moves in a
/// plane; x ahead, y to port and z up for what moves in space.
/// </summary>
public sealed record ShapeNode
{
    public ShapeKind Kind { get; init; }

    public ShapeInk Ink { get; init; }

    /// <summary>Its place among the shapes of the part.</summary>
    public double Order { get; init; }

    /// <summary>Its middle, or the first end of a tube, m.</summary>
    public Triple At { get; init; } = new(0, 0, 0);

    /// <summary>Its turn about x, y and z, degrees.</summary>
    public Triple Turn { get; init; } = new(0, 0, 0);

    /// <summary>Lengths of a box along its axes; of a cylinder and a cone the diameter, the same, and the length along z; of an extrusion
    /// nothing, nothing and its depth; the second end of a tube; the height of letters as y. m.</summary>
    public Triple Size { get; init; } = new(1, 1, 1);

    /// <summary>The diameter of a tube, m; how many times larger a mesh is drawn than its file says.</summary>
    public double Measure { get; init; } = 0.1;

    /// <summary>Corners of the outline of an extrusion, m.</summary>
    public List<Point> Outline { get; init; } = [];

    public string? Text { get; init; }

    /// <summary>The mesh it shows, by the hash of its triangles.</summary>
    public string? Mesh { get; init; }

    /// <summary>What the file of the mesh was called.</summary>
    public string? File { get; init; }
}
