using AnchorBend.Interchange.Meshes;
using AnchorBend.Language;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Scenes;

/// <summary>Keeps meshes, packed, by the hash of their bytes: models that show the same one share it.</summary>
public interface IMeshStore
{
    /// <summary>Null where there is no such mesh.</summary>
    byte[]? Find(string hash);

    void Put(string hash, byte[] packed);
}

/// <summary>A mesh that was taken in.</summary>
/// <param name="Hash">What shapes name it by.</param>
/// <param name="Extent">Lengths of the space that it fills, in the unit of the file.</param>
/// <param name="Scale">How many metres one of its lengths is taken for.</param>
public sealed record TakenMesh(string Hash, int Triangles, Triple Extent, double Scale);

/// <summary>Meshes that shapes of models show.</summary>
public sealed class MeshLibrary(IMeshStore store, ComputeGate compute)
{
    /// <summary>What is longer than this, m, is drawn in millimetres: files of triangles do not say their unit.</summary>
    const double Longest = 200,
        Millimetre = 1e-3;

    /// <summary>Meshes that a file of a model may bring.</summary>
    const int MostInFile = 200;

    static readonly TimeSpan MostReading = TimeSpan.FromSeconds(20);

    /// <summary>Reads a file, checks it and keeps its triangles.</summary>
    /// <exception cref="DocumentException">It holds no mesh that can be drawn.</exception>
    public TakenMesh Take(string name, byte[] file, CancellationToken wanted)
    {
        var (mesh, bytes) = compute.Run(MostReading, wanted, _ =>
        {
            try
            {
                var read = MeshFile.Read(name, file);
                return (read, read.ToBytes());
            }
            catch (MeshException e)
            {
                throw new DocumentException($"{DocumentLimits.Short(name)} cannot be shown. {e.Message}");
            }
        });
        var hash = TriangleMesh.HashOf(bytes);
        if (store.Find(hash) is null)
            store.Put(hash, TriangleMesh.Packed(bytes));
        var (x, y, z) = mesh.Extent();
        return new TakenMesh(hash, mesh.Triangles, new Triple(x, y, z), Math.Max(x, Math.Max(y, z)) > Longest ? Millimetre : 1);
    }

    /// <exception cref="NotFoundException">There is no such mesh.</exception>
    public byte[] Bytes(string hash) =>
        store.Find(hash) is { } packed
            ? TriangleMesh.Unpacked(packed)
            : throw new NotFoundException($"There is no mesh '{DocumentLimits.Short(hash)}'.");

    /// <summary>A document with the meshes that its shapes show, for a file.</summary>
    public ModelDocument WithMeshes(ModelDocument document)
    {
        var meshes = new Dictionary<string, string>();
        foreach (var hash in Shown(document))
            if (store.Find(hash) is { } packed)
                meshes[hash] = Convert.ToBase64String(packed);
        return meshes.Count == 0 ? document : document with { Meshes = meshes };
    }

    /// <summary>Keeps the meshes that a file brings; gives the document without them.</summary>
    /// <exception cref="DocumentException">One of them is none, or they are too many.</exception>
    public ModelDocument TakeFrom(ModelDocument document, CancellationToken wanted)
    {
        if (document.Meshes is not { } meshes)
            return document;
        if (meshes.Count > MostInFile)
            throw new DocumentException($"The file brings {meshes.Count} meshes; at most {MostInFile} are taken.");
        compute.Run(MostReading, wanted, _ => TakeAll(meshes));
        return document with { Meshes = null };
    }

    int TakeAll(Dictionary<string, string> meshes)
    {
        foreach (var (hash, text) in meshes)
        {
            WorkBudget.Current.Check();
            try
            {
                var packed = Convert.FromBase64String(text ?? "");
                var bytes = TriangleMesh.Unpacked(packed);
                TriangleMesh.FromBytes(bytes);
                if (TriangleMesh.HashOf(bytes) != hash)
                    throw new MeshException("It is not the one that its name says.");
                if (store.Find(hash) is null)
                    store.Put(hash, packed);
            }
            catch (Exception e) when (e is MeshException or FormatException)
            {
                throw new DocumentException($"The mesh '{DocumentLimits.Short(hash)}' of the file cannot be read. {e.Message}");
            }
        }

        return meshes.Count;
    }

    static IEnumerable<string> Shown(ModelDocument document) =>
        document
            .Definitions.Values.OfType<DiagramDefinition>()
            .SelectMany(d => d.Parts.Values)
            .SelectMany(p => p.Shapes?.Values.ToList() ?? [])
            .Select(s => s.Mesh)
            .OfType<string>()
            .Distinct();
}
