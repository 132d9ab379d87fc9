using System.Buffers.Binary;
using System.Globalization;
using System.Text;

namespace AnchorBend.Interchange.Meshes;

/// <summary>
/// Reads stereolithography files, binary or as text: triangles without units, taken as metres ("StereoLithography Interface
/// Specification", 1989). A binary file is one whose length is that which its count of triangles asks for;
/// some of them begin with the word that text files begin with.
/// </summary>
public static class StlReader
{
    const int Head = 80,
        Facet = 50;

    /// <exception cref="MeshException">It cannot be read; says why.</exception>
    public static TriangleMesh Read(ReadOnlySpan<byte> file)
    {
        if (file.Length >= Head + 4 && BinaryPrimitives.ReadUInt32LittleEndian(file[Head..]) is var count)
        {
            var length = Head + 4 + Facet * (long)count;
            if (file.Length == length)
                return Binary(file[(Head + 4)..], count);
            if (!StartsAsText(file))
                throw new MeshException(
                    $"It says that it has {count:N0} triangles, but is {file.Length:N0} bytes long and not {length:N0}. "
                        + "It may have been cut off; export it anew."
                );
        }

        return StartsAsText(file) ? Text(file) : throw new MeshException("It is too short for a file of triangles.");
    }

    static bool StartsAsText(ReadOnlySpan<byte> file) => file.TrimStart(" \t\r\n"u8).StartsWith("solid"u8);

    static TriangleMesh Binary(ReadOnlySpan<byte> facets, uint count)
    {
        if (count > TriangleMesh.MostTriangles)
            throw TriangleMesh.TooMany(count);
        var welder = new CornerWelder();
        for (var i = 0; i < count; i++)
        {
            // Twelve bytes of a normal come first; the corners say as much.
            var corners = facets[(i * Facet + 12)..];
            for (var k = 0; k < 3; k++)
                welder.Add(
                    BinaryPrimitives.ReadSingleLittleEndian(corners[(12 * k)..]),
                    BinaryPrimitives.ReadSingleLittleEndian(corners[(12 * k + 4)..]),
                    BinaryPrimitives.ReadSingleLittleEndian(corners[(12 * k + 8)..])
                );
        }

        return welder.Mesh();
    }

    static TriangleMesh Text(ReadOnlySpan<byte> file)
    {
        var welder = new CornerWelder();
        using var reader = new StringReader(Encoding.UTF8.GetString(file));
        var (number, inFacet) = (0, 0);
        while (reader.ReadLine() is { } line)
        {
            number++;
            var words = line.Split((char[])[' ', '\t'], StringSplitOptions.RemoveEmptyEntries);
            if (words is ["facet", ..])
                inFacet = 0;
            else if (
                words is ["vertex", var x, var y, var z]
                && float.TryParse(x, CultureInfo.InvariantCulture, out var px)
                && float.TryParse(y, CultureInfo.InvariantCulture, out var py)
                && float.TryParse(z, CultureInfo.InvariantCulture, out var pz)
            )
            {
                if (++inFacet > 3)
                    throw new MeshException($"Line {number}: a facet has more than three corners. Export it as triangles.");
                welder.Add(px, py, pz);
            }
            else if (words is ["vertex", ..])
                throw new MeshException($"Line {number}: three numbers are expected after 'vertex'.");
            else if (words is ["endfacet", ..] && inFacet != 3)
                throw new MeshException($"Line {number}: a facet ends with {inFacet} corners, not three.");
            else if (words is [var word, ..] && word is not ("solid" or "outer" or "endloop" or "endfacet" or "endsolid" or "facet"))
                throw new MeshException(
                    $"Line {number}: '{(word.Length > 40 ? word[..40] + "…" : word)}' does not belong into a file of triangles."
                );
        }

        return welder.Mesh();
    }
}
