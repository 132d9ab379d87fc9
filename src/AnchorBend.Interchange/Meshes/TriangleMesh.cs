using System.Buffers.Binary;
using System.IO.Compression;
using System.Security.Cryptography;

namespace AnchorBend.Interchange.Meshes;

/// <summary>The file holds no mesh that can be drawn; the message says what of it and what to try.</summary>
public sealed class MeshException(string message) : Exception(message);

/// <summary>Triangles of a drawn thing: places of their corners, m, and three corners for each.</summary>
/// <param name="Places">x, y and z of each corner in turn.</param>
/// <param name="Corners">Three numbers of corners for each triangle, counted from zero.</param>
public sealed record TriangleMesh(float[] Places, int[] Corners)
{
    /// <summary>More are slow to draw without a graphics card, and no drawing of a machine needs them.</summary>
    public const int MostTriangles = 500_000;

    public int Triangles => Corners.Length / 3;

    /// <summary>Lengths of the space that it fills, m.</summary>
    public (double X, double Y, double Z) Extent()
    {
        Span<float> least = [float.MaxValue, float.MaxValue, float.MaxValue];
        Span<float> most = [float.MinValue, float.MinValue, float.MinValue];
        for (var i = 0; i < Places.Length; i++)
            (least[i % 3], most[i % 3]) = (Math.Min(least[i % 3], Places[i]), Math.Max(most[i % 3], Places[i]));
        return Places.Length == 0 ? (0, 0, 0) : (most[0] - least[0], most[1] - least[1], most[2] - least[2]);
    }

    /// <summary>How many corners, how many triangles (32 bits each), places (32-bit numbers), corners of triangles (32 bits), all with the
    /// small end first.</summary>
    public byte[] ToBytes()
    {
        var bytes = new byte[8 + 4 * (Places.Length + Corners.Length)];
        var at = bytes.AsSpan();
        BinaryPrimitives.WriteInt32LittleEndian(at, Places.Length / 3);
        BinaryPrimitives.WriteInt32LittleEndian(at[4..], Triangles);
        at = at[8..];
        foreach (var place in Places)
        {
            BinaryPrimitives.WriteSingleLittleEndian(at, place);
            at = at[4..];
        }

        foreach (var corner in Corners)
        {
            BinaryPrimitives.WriteInt32LittleEndian(at, corner);
            at = at[4..];
        }

        return bytes;
    }

    /// <exception cref="MeshException">The bytes are no mesh.</exception>
    public static TriangleMesh FromBytes(ReadOnlySpan<byte> bytes)
    {
        if (bytes.Length < 8)
            throw Broken();
        var corners = BinaryPrimitives.ReadInt32LittleEndian(bytes);
        var triangles = BinaryPrimitives.ReadInt32LittleEndian(bytes[4..]);
        if (corners < 0 || triangles is < 0 or > MostTriangles || bytes.Length != 8 + 12L * ((long)corners + triangles))
            throw Broken();
        var mesh = new TriangleMesh(new float[3 * corners], new int[3 * triangles]);
        for (var i = 0; i < mesh.Places.Length; i++)
            mesh.Places[i] = BinaryPrimitives.ReadSingleLittleEndian(bytes[(8 + 4 * i)..]);
        for (var i = 0; i < mesh.Corners.Length; i++)
            mesh.Corners[i] = BinaryPrimitives.ReadInt32LittleEndian(bytes[(8 + 4 * (mesh.Places.Length + i))..]);
        return mesh.Checked();
    }

    /// <summary>The same mesh, once it is sure that it can be drawn.</summary>
    /// <exception cref="MeshException">It has no triangles or too many, or a corner that is nowhere.</exception>
    public TriangleMesh Checked()
    {
        if (Triangles == 0)
            throw new MeshException("There is no triangle in it. Export the surface as triangles.");
        if (Triangles > MostTriangles)
            throw TooMany(Triangles);
        foreach (var place in Places)
            if (!float.IsFinite(place))
                throw new MeshException("A corner is nowhere: one of its coordinates is no number. Export the file anew.");
        foreach (var corner in Corners)
            if (corner < 0 || corner >= Places.Length / 3)
                throw new MeshException("A triangle names a corner that is not there. Export the file anew.");
        return this;
    }

    internal static MeshException TooMany(long triangles) =>
        new($"It has {triangles:N0} triangles; at most {MostTriangles:N0} are taken. Reduce it in the program that made it.");

    static MeshException Broken() => new("The bytes are no mesh.");

    /// <summary>What names a mesh by its content.</summary>
    public static string HashOf(ReadOnlySpan<byte> bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes)[..16]);

    /// <summary>Bytes made smaller, as files of models and the store keep them.</summary>
    public static byte[] Packed(ReadOnlySpan<byte> bytes)
    {
        using var packed = new MemoryStream();
        using (var deflate = new DeflateStream(packed, CompressionLevel.Fastest))
            deflate.Write(bytes);
        return packed.ToArray();
    }

    /// <exception cref="MeshException">They are not what was packed, or more than any mesh has.</exception>
    public static byte[] Unpacked(byte[] packed)
    {
        const long most = 8 + 12L * 4 * MostTriangles;
        using var bytes = new MemoryStream();
        try
        {
            using var inflate = new DeflateStream(new MemoryStream(packed), CompressionMode.Decompress);
            var buffer = new byte[1 << 16];
            for (int read; (read = inflate.Read(buffer)) > 0; )
            {
                bytes.Write(buffer, 0, read);
                if (bytes.Length > most)
                    throw Broken();
            }
        }
        catch (InvalidDataException)
        {
            throw Broken();
        }

        return bytes.ToArray();
    }
}
