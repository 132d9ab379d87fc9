using AnchorBend.Workbench.Scenes;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>Meshes in the database.</summary>
public sealed class MeshStore(Database database, KeptRoom room) : IMeshStore
{
    public byte[]? Find(string hash)
    {
        using var connection = database.Open();
        return connection.QuerySingleOrDefault<byte[]>("select packed from meshes where hash = @hash", new { hash });
    }

    public void Put(string hash, byte[] packed)
    {
        room.Take(hash, packed.Length);
        database.Write(c => c.Execute("insert into meshes values (@hash, @packed) on conflict(hash) do nothing", new { hash, packed }));
    }
}
