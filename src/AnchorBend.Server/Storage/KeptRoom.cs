using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.People;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>
/// Room on the disk for what is large: traces of kept runs, shapes, units. What somebody who has signed in keeps is counted, so that no
/// one can fill the disk for the others; for all, some of it stays free, as edits need little but always.
/// </summary>
/// <param name="perAccount">What one account may keep, in bytes.</param>
public sealed class KeptRoom
{
    public const long Mebibyte = 1L << 20;

    /// <summary>What stays free for edits and for the log of the database.</summary>
    const long Reserve = 256 * Mebibyte;

    readonly Database database;
    readonly long perAccount;

    public KeptRoom(Database database, long perAccount)
    {
        (this.database, this.perAccount) = (database, perAccount);
        // Room that was taken for what a killed process did not come to keep, or what went with its model.
        database.Write(c =>
            c.Execute(
                "delete from kept_sizes where item not in (select id from runs union select hash from meshes union select hash from units)"
            )
        );
    }

    /// <summary>Takes room for something that is about to be kept, or is there already.</summary>
    /// <exception cref="RefusedException">There is none left.</exception>
    public void Take(string item, long bytes)
    {
        if (new DriveInfo(database.Folder).AvailableFreeSpace - bytes < Reserve)
            throw new RefusedException(
                "The server's disk has hardly any room left; edits are still stored.",
                "Give up runs that are kept, or have an administrator make room."
            );
        if (Visitor.Current is not { } visitor)
            return;
        var isTaken = database.Write(c =>
            c.Execute(
                """
                insert into kept_sizes (item, account, bytes)
                select @item, @account, @bytes
                where (select coalesce(sum(bytes), 0) from kept_sizes where account = @account) + @bytes <= @perAccount
                on conflict (item) do nothing
                """,
                new
                {
                    item,
                    account = visitor.Account,
                    bytes,
                    perAccount,
                }
            )
        );
        if (isTaken == 0 && !IsKnown(item))
            throw new RefusedException(
                $"You keep {Size(Of(visitor.Account))} of runs, shapes and units; with this one of {Size(bytes)} it would be more than the "
                    + $"{Size(perAccount)} that each may keep.",
                "Give up runs that you keep, or ask an administrator (--room-per-account)."
            );
    }

    /// <summary>Gives the room of something back.</summary>
    public void Give(string item) => database.Write(c => c.Execute("delete from kept_sizes where item = @item", new { item }));

    bool IsKnown(string item)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>("select exists (select 1 from kept_sizes where item = @item)", new { item });
    }

    long Of(string account)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<long>("select coalesce(sum(bytes), 0) from kept_sizes where account = @account", new { account });
    }

    static string Size(long bytes) =>
        bytes < 10 * Mebibyte ? $"{Math.Max(1, bytes >> 10)} KiB"
        : bytes < 10_240 * Mebibyte ? $"{bytes / Mebibyte} MiB"
        : $"{bytes >> 30} GiB";
}
