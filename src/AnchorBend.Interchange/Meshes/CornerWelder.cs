using AnchorBend.Language;

namespace AnchorBend.Interchange.Meshes;

/// <summary>Collects triangles; corners at the same place become one.</summary>
sealed class CornerWelder
{
    readonly Dictionary<(float X, float Y, float Z), int> known = [];
    readonly List<float> places = [];
    readonly List<int> corners = [];

    /// <exception cref="MeshException">There are too many triangles.</exception>
    public void Add(float x, float y, float z)
    {
        if (corners.Count >= 3 * TriangleMesh.MostTriangles)
            throw TriangleMesh.TooMany(corners.Count / 3 + 1);
        if ((corners.Count & 0xFFF) == 0)
            WorkBudget.Current.Check();
        if (!known.TryGetValue((x, y, z), out var index))
        {
            known[(x, y, z)] = index = places.Count / 3;
            places.Add(x);
            places.Add(y);
            places.Add(z);
        }

        corners.Add(index);
    }

    public TriangleMesh Mesh() => new TriangleMesh([.. places], [.. corners]).Checked();
}
