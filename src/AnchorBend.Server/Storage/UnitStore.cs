using AnchorBend.Workbench.Code;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>Exchange units in the database.</summary>
public sealed class UnitStore(Database database, KeptRoom room) : IUnitStore
{
    public IReadOnlyList<string> Hashes()
    {
        using var connection = database.Open();
        return [.. connection.Query<string>("select hash from units")];
    }

    public byte[]? Find(string hash)
    {
        using var connection = database.Open();
        return connection.QuerySingleOrDefault<byte[]>("select packed from units where hash = @hash", new { hash });
    }

    public void Put(string hash, byte[] packed)
    {
        room.Take(hash, packed.Length);
        database.Write(c => c.Execute("insert into units values (@hash, @packed) on conflict(hash) do nothing", new { hash, packed }));
    }
}
