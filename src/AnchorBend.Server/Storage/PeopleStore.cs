using AnchorBend.Workbench.People;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>Accounts, sessions, keys, rights and the audit log.</summary>
public sealed class PeopleStore(Database database) : IPeopleStore
{
    /// <summary>Entries of the audit log that are kept: about two years of a team of twenty.</summary>
    const int MostAudited = 1_000_000;

    /// <summary>How many are removed at once.</summary>
    const int AuditedAtOnce = 1000;

    sealed record AccountRow(
        string Id,
        string Name,
        string Shown,
        string Password,
        long IsAdministrator,
        long IsOff,
        string Made,
        long Failures,
        string? LockedUntil
    )
    {
        public Account Account => new(Id, Name, Shown, Password, IsAdministrator != 0, IsOff != 0, Made, (int)Failures, LockedUntil);
    }

    const string AccountColumns =
        "id, name, shown, password, is_administrator IsAdministrator, is_off IsOff, made, failures, locked_until LockedUntil";

    public IReadOnlyList<Account> Accounts() => [.. Accounts("order by name", new { })];

    public Account? Find(string id) => Accounts("where id = @id", new { id }).FirstOrDefault();

    public Account? Named(string name) => Accounts("where name = @name", new { name }).FirstOrDefault();

    List<Account> Accounts(string which, object values)
    {
        using var connection = database.Open();
        return [.. connection.Query<AccountRow>($"select {AccountColumns} from accounts {which}", values).Select(a => a.Account)];
    }

    public void Put(Account account) =>
        database.Write(c =>
            c.Execute(
                """
                insert into accounts values
                (@Id, @Name, @Shown, @Password, @IsAdministrator, @IsOff, @Made, @Failures, @LockedUntil)
                on conflict (id) do update set shown = @Shown, password = @Password, is_administrator = @IsAdministrator,
                is_off = @IsOff, failures = @Failures, locked_until = @LockedUntil
                """,
                account
            )
        );

    public Session? Session(string hash)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<Session>(
            "select hash, account, made, last, ends, came_from as \"From\" from sessions where hash = @hash",
            new { hash }
        );
    }

    public void Put(Session session) =>
        database.Write(c => c.Execute("insert or replace into sessions values (@Hash, @Account, @Made, @Last, @Ends, @From)", session));

    public void RemoveSession(string hash) => database.Write(c => c.Execute("delete from sessions where hash = @hash", new { hash }));

    public void RemoveSessions(string? account, string now) =>
        database.Write(c => c.Execute("delete from sessions where account = @account or ends < @now", new { account, now }));

    sealed record TokenRow(string Id, string Hash, string Account, string Name, long MayEdit, string Made, string Ends, string? Last)
    {
        public Token Token => new(Id, Hash, Account, Name, MayEdit != 0, Made, Ends, Last);
    }

    public IReadOnlyList<Token> Tokens(string account) => Tokens("where account = @account order by made desc", new { account });

    public Token? TokenOf(string hash) => Tokens("where hash = @hash", new { hash }).FirstOrDefault();

    List<Token> Tokens(string which, object values)
    {
        using var connection = database.Open();
        return
        [
            .. connection
                .Query<TokenRow>($"select id, hash, account, name, may_edit MayEdit, made, ends, last from tokens {which}", values)
                .Select(t => t.Token),
        ];
    }

    public void Put(Token token) =>
        database.Write(c =>
            c.Execute("insert or replace into tokens values (@Id, @Hash, @Account, @Name, @MayEdit, @Made, @Ends, @Last)", token)
        );

    public bool RemoveToken(string account, string id) =>
        database.Write(c => c.Execute("delete from tokens where account = @account and id = @id", new { account, id })) > 0;

    public IReadOnlyList<Grant> Grants()
    {
        using var connection = database.Open();
        return
        [
            .. connection
                .Query<(string Folder, string Account, string May)>("select folder, account, may from grants order by folder, account")
                .Select(g => new Grant(g.Folder, g.Account, Enum.Parse<Access>(g.May))),
        ];
    }

    public void Put(Grant grant) =>
        database.Write(c =>
            c.Execute(
                "insert or replace into grants values (@Folder, @Account, @may)",
                new
                {
                    grant.Folder,
                    grant.Account,
                    may = grant.May.ToString(),
                }
            )
        );

    public (string Folder, string Owner)? PlaceOf(string model)
    {
        using var connection = database.Open();
        return
            connection.QueryFirstOrDefault<(string?, string?)>("select folder, owner from models where id = @model", new { model })
                is ({ } folder, { } owner)
            ? (folder, owner)
            : null;
    }

    public void RemoveGrant(string folder, string account) =>
        database.Write(c => c.Execute("delete from grants where folder = @folder and account = @account", new { folder, account }));

    public void Note(AuditEntry entry) =>
        database.Write(c =>
            c.Execute(
                """
                insert into audit (at, who, what, about, came_from) values (@At, @Who, @What, @About, @From);
                delete from audit where last_insert_rowid() % @AuditedAtOnce = 0 and number <= last_insert_rowid() - @MostAudited;
                """,
                new
                {
                    entry.At,
                    entry.Who,
                    entry.What,
                    entry.About,
                    entry.From,
                    AuditedAtOnce,
                    MostAudited,
                }
            )
        );

    public IReadOnlyList<AuditEntry> Audit(long before, int limit)
    {
        using var connection = database.Open();
        return
        [
            .. connection.Query<AuditEntry>(
                """
                select number, at, who, what, about, came_from as "From" from audit
                where number < @before order by number desc limit @limit
                """,
                new { before, limit }
            ),
        ];
    }
}
