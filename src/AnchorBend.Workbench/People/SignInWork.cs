using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.People;

/// <summary>Nobody is signed in by that; the message does not say what of it was wrong.</summary>
public sealed class SignInException(string message) : Exception(message);

/// <summary>Hashes passwords as the platform does.</summary>
public interface IPasswordHash
{
    string Of(string password);

    bool Fits(string hash, string password);
}

/// <summary>Accounts, sessions and tokens: who somebody is.</summary>
public sealed class SignInWork(IPeopleStore store, IPasswordHash passwords, TimeProvider clock)
{
    public const int ShortestPassword = 12;

    const int LongestPassword = 128,
        LongestName = 60,
        FreeFailures = 5,
        MostTokens = 50;

    /// <summary>A session ends when it was not used for so long, and in any case after so long.</summary>
    static readonly TimeSpan Idle = TimeSpan.FromHours(12),
        Longest = TimeSpan.FromDays(7),
        LongestToken = TimeSpan.FromDays(366);

    /// <summary>How long a lock lasts after the failures that are free; each further one doubles it, up to an hour.</summary>
    static readonly TimeSpan FirstLock = TimeSpan.FromSeconds(30),
        LongestLock = TimeSpan.FromHours(1);

    /// <summary>When a session was used is written down this often.</summary>
    static readonly TimeSpan Writing = TimeSpan.FromMinutes(5);

    /// <summary>Hashed for names that there are none of, so that they take as long as others.</summary>
    readonly string nobody = passwords.Of("nobody has this password");

    string? invitation;

    /// <summary>Whether there is nobody yet who could let others in.</summary>
    public bool IsEmpty => store.Accounts().All(a => !a.IsAdministrator || a.IsOff);

    /// <summary>The code by which the first administrator makes an account, as it is said on the console; good until the program
    /// ends.</summary>
    public string Invite() => invitation ??= Grouped(RandomNumberGenerator.GetString("ABCDEFGHJKLMNPQRSTUVWXYZ23456789", 16));

    static string Grouped(string code) => string.Join('-', code.Chunk(4).Select(c => new string(c)));

    /// <summary>Makes the first administrator.</summary>
    /// <exception cref="SignInException">The code is not the one on the console, or there is an administrator already.</exception>
    /// <exception cref="DocumentException">Name or password cannot be taken.</exception>
    public Account First(string code, string name, string password, string from)
    {
        var fits =
            invitation is not null
            && IsEmpty
            && CryptographicOperations.FixedTimeEquals(
                Encoding.UTF8.GetBytes(code.Trim().ToUpperInvariant()),
                Encoding.UTF8.GetBytes(invitation)
            );
        if (!fits)
        {
            Note("", "invitation refused", Known(name), from);
            throw new SignInException("That is not the code that the server has printed at its start.");
        }

        var account = Make(name, name, password, true);
        invitation = null;
        // Everybody may look around; more is given by an administrator.
        store.Put(new Grant("", "", Access.View));
        Note(account.Name, "first administrator", account.Name, from);
        return account;
    }

    /// <exception cref="DocumentException">Name or password cannot be taken.</exception>
    public Account Add(string name, string? shown, string password, bool isAdministrator, string from)
    {
        var account = Make(name, shown, password, isAdministrator);
        Note(By, "account made", account.Name, from);
        return account;
    }

    Account Make(string name, string? shown, string password, bool isAdministrator)
    {
        var wanted = name.Trim();
        if (wanted.Length is 0 or > LongestName || wanted.Any(c => char.IsControl(c) || char.IsWhiteSpace(c)))
            throw new DocumentException($"A name to sign in with has 1 to {LongestName} characters, without spaces.");
        if (store.Named(wanted) is not null)
            throw new DocumentException($"There is an account '{wanted}' already.");
        Check(password, wanted);
        var account = new Account(
            Guid.NewGuid().ToString("N"),
            wanted,
            Shown(shown, wanted),
            passwords.Of(password),
            isAdministrator,
            false,
            Text(Now),
            0,
            null
        );
        store.Put(account);
        return account;
    }

    static string Shown(string? shown, string name)
    {
        var text = new string([.. (shown ?? "").Trim().Where(c => !char.IsControl(c)).Take(LongestName)]);
        return text.Length == 0 ? name : text;
    }

    static void Check(string password, string name)
    {
        if (password.Length is < ShortestPassword or > LongestPassword)
            throw new DocumentException($"A password has {ShortestPassword} to {LongestPassword} characters.");
        if (password.Distinct().Count() < 5 || password.Contains(name, StringComparison.OrdinalIgnoreCase) && name.Length > 3)
            throw new DocumentException("That password is too easily guessed: take several words, and not your name.");
    }

    /// <summary>The account that a name and a password belong to.</summary>
    /// <exception cref="SignInException">To none, or it is locked for a while.</exception>
    public Account SignIn(string name, string password, string from)
    {
        var account = store.Named(name.Trim());
        if (account?.LockedUntil is { } until && Time(until) > Now)
        {
            Note(account.Name, "sign-in while locked", account.Name, from);
            throw new SignInException(Wrong);
        }

        var fits = passwords.Fits(account?.Password ?? nobody, password.Length > LongestPassword ? "" : password);
        if (account is null || account.IsOff || !fits)
        {
            if (account is not null)
                Failed(account.Id);
            Note("", "sign-in refused", Known(name), from);
            throw new SignInException(Wrong);
        }

        if (account.Failures > 0)
            store.Put(account with { Failures = 0, LockedUntil = null });
        Note(account.Name, "signed in", account.Name, from);
        return account;
    }

    const string Wrong = "Name and password do not belong together, or the account is locked for a while after wrong ones.";

    static string Known(string name) => DocumentLimits.Short(new string([.. name.Where(c => !char.IsControl(c))]));

    void Failed(string id)
    {
        // Many tries at once count as many.
        lock (counting)
        {
            if (store.Find(id) is not { } account)
                return;
            var failures = account.Failures + 1;
            var seconds = FirstLock.TotalSeconds * Math.Pow(2, failures - FreeFailures);
            var until = failures < FreeFailures ? null : Text(Now + TimeSpan.FromSeconds(Math.Min(LongestLock.TotalSeconds, seconds)));
            store.Put(account with { Failures = failures, LockedUntil = until });
        }
    }

    readonly Lock counting = new();

    /// <summary>Begins a session.</summary>
    /// <returns>What the browser keeps: whoever has it is signed in.</returns>
    public string Begin(Account account, string from)
    {
        var secret = Secret();
        var now = Now;
        store.RemoveSessions(null, Text(now));
        store.Put(new Session(Hash(secret), account.Id, Text(now), Text(now), Text(now + Longest), from));
        return secret;
    }

    /// <summary>The account whose session it is; null where it has ended.</summary>
    public Account? OfSession(string secret)
    {
        var (session, now) = (store.Session(Hash(secret)), Now);
        if (session is null || Time(session.Ends) < now || Time(session.Last) + Idle < now)
            return null;
        if (Time(session.Last) + Writing < now)
            store.Put(session with { Last = Text(now) });
        return store.Find(session.Account) is { IsOff: false } account ? account : null;
    }

    public void End(string secret) => store.RemoveSession(Hash(secret));

    /// <summary>A key for scripts.</summary>
    /// <returns>The token and the key itself, which is shown this once.</returns>
    /// <exception cref="DocumentException">It has no name, or would be good for too long.</exception>
    public (Token Token, string Secret) Issue(string account, string name, bool mayEdit, int days, string from)
    {
        var wanted = name.Trim();
        if (wanted.Length is 0 or > LongestName || wanted.Any(char.IsControl))
            throw new DocumentException($"A key has a name of 1 to {LongestName} characters, so that one knows what it was for.");
        if (days < 1 || TimeSpan.FromDays(days) > LongestToken)
            throw new DocumentException($"A key is good for 1 to {LongestToken.Days} days.");
        if (store.Tokens(account).Count >= MostTokens)
            throw new DocumentException($"There are {MostTokens} keys already. Remove one that is not needed.");
        var secret = "ab_" + Secret();
        var id = Guid.NewGuid().ToString("N")[..12];
        var token = new Token(id, Hash(secret), account, wanted, mayEdit, Text(Now), Text(Now + TimeSpan.FromDays(days)), null);
        store.Put(token);
        Note(By, "key made", wanted, from);
        return (token, secret);
    }

    /// <exception cref="NotFoundException">There is no such key.</exception>
    public void Withdraw(string account, string id, string from)
    {
        if (!store.RemoveToken(account, id))
            throw new NotFoundException("There is no such key any more.");
        Note(By, "key removed", id, from);
    }

    /// <summary>Whose key it is and what it may; null where it is none or has ended.</summary>
    public (Account Account, bool MayEdit)? OfToken(string secret)
    {
        var (token, now) = (store.TokenOf(Hash(secret)), Now);
        if (token is null || Time(token.Ends) < now || store.Find(token.Account) is not { IsOff: false } account)
            return null;
        if (token.Last is null || Time(token.Last) + Writing < now)
            store.Put(token with { Last = Text(now) });
        return (account, token.MayEdit);
    }

    /// <summary>Another password; all sessions end.</summary>
    /// <exception cref="DocumentException">The present one is not that, or the new one cannot be taken.</exception>
    public void ChangePassword(string id, string present, string wanted, string from)
    {
        var account = store.Find(id);
        if (account is null || !passwords.Fits(account.Password, present))
        {
            // Whoever sits at somebody else's browser tries passwords like anybody who is not in yet.
            if (account is not null)
                Failed(account.Id);
            Note(account?.Name ?? "", "password kept", account?.Name ?? "", from);
            throw new DocumentException("The present password is not that.");
        }

        Check(wanted, account.Name);
        store.Put(account with { Password = passwords.Of(wanted) });
        store.RemoveSessions(account.Id, Text(Now));
        Note(account.Name, "password changed", account.Name, from);
    }

    /// <summary>What an administrator changes of an account; what is not given stays.</summary>
    /// <exception cref="NotFoundException">There is no such account.</exception>
    /// <exception cref="DocumentException">Nobody would be left who could let others in.</exception>
    public void Change(string id, bool? isAdministrator, bool? isOff, string? password, string from)
    {
        var account = store.Find(id) ?? throw new NotFoundException("There is no such account.");
        var changed = account with { IsAdministrator = isAdministrator ?? account.IsAdministrator, IsOff = isOff ?? account.IsOff };
        if (password is not null)
        {
            Check(password, account.Name);
            changed = changed with { Password = passwords.Of(password), Failures = 0, LockedUntil = null };
        }

        if (
            !store
                .Accounts()
                .Any(a => a.Id == id ? changed is { IsAdministrator: true, IsOff: false } : a is { IsAdministrator: true, IsOff: false })
        )
            throw new DocumentException("Somebody has to stay who can let others in: make another administrator first.");
        store.Put(changed);
        if (changed.IsOff || password is not null)
            store.RemoveSessions(id, Text(Now));
        Note(By, "account changed", account.Name, from);
    }

    static string By => Visitor.Current?.Name ?? "";

    public void Note(string who, string what, string about, string from) =>
        store.Note(new AuditEntry(0, Text(Now), who, what, about, from));

    DateTime Now => clock.GetUtcNow().UtcDateTime;

    static string Text(DateTime time) => time.ToString("O", CultureInfo.InvariantCulture);

    static DateTime Time(string text) => DateTime.Parse(text, CultureInfo.InvariantCulture, DateTimeStyles.RoundtripKind);

    static string Secret() => Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));

    /// <summary>Secrets of 256 random bits need no slow hash: nobody tries them out.</summary>
    static string Hash(string secret) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(secret)));
}
