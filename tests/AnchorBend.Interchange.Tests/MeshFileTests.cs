using System.Buffers.Binary;
using System.Numerics;
using System.Text;
using AnchorBend.Interchange.Meshes;
using CsCheck;

namespace AnchorBend.Interchange.Tests;

/// <summary>Files of triangles, taken in or refused with the reason.</summary>
public class MeshFileTests
{
    /// <summary>A tetrahedron with legs of 1, 2 and 3 along the axes: four corners, four triangles.</summary>
    static readonly Vector3[][] Tetrahedron =
    [
        [new(0, 0, 0), new(0, 2, 0), new(1, 0, 0)],
        [new(0, 0, 0), new(1, 0, 0), new(0, 0, 3)],
        [new(0, 0, 0), new(0, 0, 3), new(0, 2, 0)],
        [new(1, 0, 0), new(0, 2, 0), new(0, 0, 3)],
    ];

    /// <summary>A file of each form that is read.</summary>
    internal static IEnumerable<byte[]> Forms() => [BinaryStl(Tetrahedron), TextStl(Tetrahedron), Gltf()];

    static byte[] BinaryStl(IReadOnlyList<Vector3[]> facets, string head = "made by a test")
    {
        var bytes = new byte[84 + 50 * facets.Count];
        Encoding.ASCII.GetBytes(head).CopyTo(bytes, 0);
        BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(80), facets.Count);
        for (var i = 0; i < facets.Count; i++)
        for (var k = 0; k < 9; k++)
            BinaryPrimitives.WriteSingleLittleEndian(bytes.AsSpan(84 + 50 * i + 12 + 4 * k), facets[i][k / 3][k % 3]);
        return bytes;
    }

    static byte[] TextStl(IEnumerable<Vector3[]> facets) =>
        Encoding.ASCII.GetBytes(
            "solid wedge\n"
                + string.Concat(
                    facets.Select(f =>
                        "facet normal 0 0 1\n outer loop\n"
                        + string.Concat(f.Select(v => FormattableString.Invariant($"  vertex {v.X:e6} {v.Y} {v.Z}\n")))
                        + " endloop\nendfacet\n"
                    )
                )
                + "endsolid wedge\n"
        );

    /// <summary>The tetrahedron under a node that makes it twice as large and moves it by one along y, in a text that holds its
    /// data.</summary>
    static byte[] Gltf()
    {
        var places = new byte[9 * 4 * Tetrahedron.Length];
        foreach (var (i, v) in Tetrahedron.SelectMany(f => f).Index())
            for (var k = 0; k < 3; k++)
                BinaryPrimitives.WriteSingleLittleEndian(places.AsSpan(12 * i + 4 * k), v[k]);
        return Encoding.UTF8.GetBytes(
            $$$"""
            {"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],
            "nodes":[{"mesh":0,"scale":[2,2,2],"translation":[0,1,0]}],
            "meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],
            "accessors":[{"bufferView":0,"componentType":5126,"count":12,"type":"VEC3","max":[1,2,3],"min":[0,0,0]}],
            "bufferViews":[{"buffer":0,"byteLength":{{{places.Length}}}}],
            "buffers":[{"byteLength":{{{places.Length}}},"uri":"data:application/octet-stream;base64,{{{Convert.ToBase64String(
                places
            )}}}"}]}
            """
        );
    }

    [Fact]
    public void Binary_and_written_triangles_are_the_same_mesh()
    {
        var binary = MeshFile.Read("wedge.stl", BinaryStl(Tetrahedron));
        var text = MeshFile.Read("WEDGE.STL", TextStl(Tetrahedron));
        Assert.Equal((4, 12), (binary.Triangles, binary.Places.Length));
        Assert.Equal((1, 2, 3), binary.Extent());
        Assert.Equal(binary.Places, text.Places);
        Assert.Equal(binary.Corners, text.Corners);
        // The word that text files begin with says nothing where the length is that of a binary one.
        Assert.Equal(4, MeshFile.Read("wedge.stl", BinaryStl(Tetrahedron, "solid of another program")).Triangles);
    }

    [Fact]
    public void A_scene_stands_as_its_nodes_place_it()
    {
        var mesh = MeshFile.Read("wedge.gltf", Gltf());
        Assert.Equal(4, mesh.Triangles);
        Assert.Equal((2, 4, 6), mesh.Extent());
        Assert.Equal(1, Enumerable.Range(0, 4).Min(i => mesh.Places[3 * i + 1]));
    }

    [Fact]
    public void What_is_kept_is_what_was_read()
    {
        var mesh = MeshFile.Read("wedge.stl", BinaryStl(Tetrahedron));
        var bytes = mesh.ToBytes();
        var back = TriangleMesh.FromBytes(TriangleMesh.Unpacked(TriangleMesh.Packed(bytes)));
        Assert.Equal(mesh.Places, back.Places);
        Assert.Equal(mesh.Corners, back.Corners);
        Assert.Equal(32, TriangleMesh.HashOf(bytes).Length);
    }

    [Theory]
    [InlineData("cut off", "has 4 triangles")]
    [InlineData("no number", "coordinates is no number")]
    [InlineData("too many", "at most 500,000")]
    [InlineData("square", "more than three corners")]
    [InlineData("prose", "'dear' does not belong")]
    [InlineData("no triangle", "no triangle")]
    [InlineData("empty", "empty")]
    [InlineData("ending", "none of .stl, .glb and .gltf")]
    [InlineData("no scene", "no file of that format")]
    [InlineData("elsewhere", "another file")]
    public void What_cannot_be_drawn_is_refused_with_the_reason(string how, string says)
    {
        var (name, file) = how switch
        {
            "cut off" => ("a.stl", BinaryStl(Tetrahedron)[..^20]),
            "no number" => (
                "a.stl",
                BinaryStl([
                    [new(float.NaN, 0, 0), new(0, 1, 0), new(1, 0, 0)],
                ])
            ),
            "too many" => ("a.stl", BinaryStl(Enumerable.Repeat(Tetrahedron[0], 500_001).ToList())),
            "square" => (
                "a.stl",
                TextStl([
                    [.. Tetrahedron[0], new(5, 5, 5)],
                ])
            ),
            "prose" => ("a.stl", "solid\ndear reader\n"u8.ToArray()),
            "no triangle" => ("a.stl", "solid nothing\nendsolid nothing\n"u8.ToArray()),
            "empty" => ("a.stl", Array.Empty<byte>()),
            "ending" => ("a.obj", "v 0 0 0"u8.ToArray()),
            "no scene" => ("a.glb", "glTF and then nothing"u8.ToArray()),
            _ => (
                "a.gltf",
                """
                {"asset":{"version":"2.0"},"buffers":[{"uri":"wedge.bin","byteLength":36}],"bufferViews":[{"buffer":0,"byteLength":36}],
                "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","max":[1,2,0],"min":[0,0,0]}],
                "meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],"nodes":[{"mesh":0}],"scenes":[{"nodes":[0]}],"scene":0}
                """u8.ToArray()
            ),
        };
        var refused = Assert.Throws<MeshException>(() => MeshFile.Read(name, file));
        Assert.Contains(says, refused.Message.Replace("says that it has", "has", StringComparison.Ordinal), StringComparison.Ordinal);
    }

    [Fact]
    public void Half_a_million_triangles_are_taken_within_their_limit()
    {
        // A strip of squares, two triangles each, over corners that are shared.
        var facets = new List<Vector3[]>();
        for (var i = 0; i < 250_000; i++)
        {
            facets.Add([new(i, 0, 0), new(i + 1, 0, 0), new(i, 1, 0)]);
            facets.Add([new(i + 1, 0, 0), new(i + 1, 1, 0), new(i, 1, 0)]);
        }

        var mesh = MeshFile.Read("strip.stl", BinaryStl(facets));
        Assert.Equal((500_000, 3 * 2 * 250_001), (mesh.Triangles, mesh.Places.Length));
    }

    [Fact]
    public void Whatever_the_bytes_are_a_file_is_a_mesh_or_is_refused() =>
        Gen.Select(Gen.Int[0, 2], Gen.Byte.Array[0, 200], Gen.Int[0, 300])
            .Sample(
                (kind, noise, at) =>
                {
                    var file = kind switch
                    {
                        0 => BinaryStl(Tetrahedron),
                        1 => TextStl(Tetrahedron),
                        _ => Gltf(),
                    };
                    noise.AsSpan(0, Math.Min(noise.Length, Math.Max(0, file.Length - at))).CopyTo(file.AsSpan(Math.Min(at, file.Length)));
                    try
                    {
                        MeshFile.Read(kind < 2 ? "a.stl" : "a.gltf", file).Checked();
                    }
                    catch (MeshException) { }
                },
                iter: 400
            );
}
