namespace AnchorBend.Workbench.People;

/// <summary>Somebody who can sign in.</summary>
/// <param name="Name">What they sign in with; letters count alike whether they are small or not.</param>
/// <param name="Shown">As others read it.</param>
/// <param name="Password">Its hash.</param>
/// <param name="Failures">Wrong passwords since the last right one.</param>
/// <param name="LockedUntil">In UTC (ISO 8601).</param>
public sealed record Account(
    string Id,
    string Name,
    string Shown,
    string Password,
    bool IsAdministrator,
    bool IsOff,
    string Made,
    int Failures,
    string? LockedUntil
);

/// <summary>A signed-in browser, known by the hash of its cookie.</summary>
public sealed record Session(string Hash, string Account, string Made, string Last, string Ends, string From);

/// <summary>A script's key, known by its hash.</summary>
/// <param name="MayEdit">Whether it may do what its owner may; else it only looks.</param>
public sealed record Token(string Id, string Hash, string Account, string Name, bool MayEdit, string Made, string Ends, string? Last);

/// <summary>What somebody may do in a folder and in those within.</summary>
/// <param name="Account">Empty for everybody who is signed in.</param>
public sealed record Grant(string Folder, string Account, Access May);

/// <summary>An entry of the audit log.</summary>
/// <param name="Who">The account's name at that time; empty for nobody.</param>
/// <param name="What">The kind of thing that happened.</param>
/// <param name="About">What it happened to.</param>
/// <param name="From">The address that it came from.</param>
public sealed record AuditEntry(long Number, string At, string Who, string What, string About, string From);

/// <summary>Keeps who may sign in and what they may do.</summary>
public interface IPeopleStore
{
    IReadOnlyList<Account> Accounts();

    Account? Find(string id);

    Account? Named(string name);

    void Put(Account account);

    Session? Session(string hash);

    void Put(Session session);

    void RemoveSession(string hash);

    /// <summary>Ends all sessions of an account; of all accounts those that have ended anyway.</summary>
    void RemoveSessions(string? account, string now);

    IReadOnlyList<Token> Tokens(string account);

    Token? TokenOf(string hash);

    void Put(Token token);

    bool RemoveToken(string account, string id);

    IReadOnlyList<Grant> Grants();

    void Put(Grant grant);

    /// <summary>Takes back what was said of a folder; what is said of those above counts again.</summary>
    void RemoveGrant(string folder, string account);

    /// <summary>Where a model lies and whose it is; null where there is none.</summary>
    (string Folder, string Owner)? PlaceOf(string model);

    void Note(AuditEntry entry);

    /// <summary>The latest first.</summary>
    IReadOnlyList<AuditEntry> Audit(long before, int limit);
}
