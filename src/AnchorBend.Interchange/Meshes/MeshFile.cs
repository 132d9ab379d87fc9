namespace AnchorBend.Interchange.Meshes;

/// <summary>Reads a file of a mesh by what it is called and begins with.</summary>
public static class MeshFile
{
    /// <summary>A longer file is not read.</summary>
    public const int MostBytes = 64 << 20;

    /// <exception cref="MeshException">It cannot be read; says why.</exception>
    public static TriangleMesh Read(string name, byte[] file)
    {
        if (file.Length == 0)
            throw new MeshException("The file is empty.");
        if (file.Length > MostBytes)
            throw new MeshException($"The file has {file.Length >> 20:N0} MB; at most {MostBytes >> 20} are taken. Reduce the mesh.");
        return Path.GetExtension(name).ToLowerInvariant() switch
        {
            ".stl" => StlReader.Read(file),
            ".glb" or ".gltf" => GltfReader.Read(file),
            _ when file.AsSpan().StartsWith("glTF"u8) => GltfReader.Read(file),
            _ => throw new MeshException($"'{name}' is none of .stl, .glb and .gltf. Export it as one of these."),
        };
    }
}
