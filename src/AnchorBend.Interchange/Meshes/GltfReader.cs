using System.Numerics;
using AnchorBend.Language;
using SharpGLTF.Schema2;
using SharpGLTF.Validation;

namespace AnchorBend.Interchange.Meshes;

/// <summary>
/// Reads files of the GL Transmission Format 2.0 (ISO/IEC 12113) that hold their data themselves: all triangles of the scene where its
/// nodes stand, in metres. Colours, textures and motion are left.
/// </summary>
public static class GltfReader
{
    /// <exception cref="MeshException">It cannot be read; says why.</exception>
    public static TriangleMesh Read(byte[] file)
    {
        // What a file names outside of itself is not fetched.
        var context = ReadContext.Create(name =>
            throw new MeshException($"It needs another file, '{name}'. Export it as one file (.glb) that holds all.")
        );
        context.Validation = ValidationMode.Strict;
        try
        {
            using var stream = new MemoryStream(file);
            return Triangles(context.ReadSchema2(stream));
        }
        catch (MeshException)
        {
            throw;
        }
        catch (Exception e) when (Inner(e) is { } mesh)
        {
            throw mesh;
        }
        // The library throws whatever its readers of bytes and JSON throw.
        catch (Exception e) when (e is not (OutOfMemoryException or OperationCanceledException or BudgetException))
        {
            throw new MeshException("It is no file of that format: " + e.Message.Split('\n')[0]);
        }
    }

    static MeshException? Inner(Exception? e) => e is null ? null : e as MeshException ?? Inner(e.InnerException);

    static TriangleMesh Triangles(ModelRoot root)
    {
        var welder = new CornerWelder();
        var scene = root.DefaultScene ?? root.LogicalScenes.FirstOrDefault() ?? throw new MeshException("There is no scene in it.");
        foreach (var node in Node.Flatten(scene))
        {
            if (node.Mesh is not { } mesh)
                continue;
            var place = node.WorldMatrix;
            foreach (var primitive in mesh.Primitives)
            {
                if (primitive.GetVertexAccessor("POSITION")?.AsVector3Array() is not { } places)
                    continue;
                foreach (var (a, b, c) in primitive.GetTriangleIndices())
                foreach (var corner in (ReadOnlySpan<int>)[a, b, c])
                {
                    var at = Vector3.Transform(places[corner], place);
                    welder.Add(at.X, at.Y, at.Z);
                }
            }
        }

        return welder.Mesh();
    }
}
