namespace AnchorBend.Workbench.People;

/// <summary>A signed-in account for the length of one request: what it may do follows from the folders that models lie in.</summary>
/// <param name="mayEdit">Whether it came with a key that only looks.</param>
public sealed class AccountVisitor(IPeopleStore store, Account account, bool mayEdit = true) : IVisitor
{
    readonly Lazy<IReadOnlyList<Grant>> grants = new(() =>
        [.. store.Grants().Where(g => g.Account.Length == 0 || g.Account == account.Id)]
    );

    public bool MayEdit => mayEdit;

    public string Account => account.Id;

    public string Name => account.Shown;

    public bool IsAdministrator => account.IsAdministrator && mayEdit;

    public Access Of(string model)
    {
        if (store.PlaceOf(model) is not { } place)
            return Limited(Access.Administer);
        return Limited(account.IsAdministrator || place.Owner == account.Id ? Access.Administer : Given(place.Folder));
    }

    public bool Owns(string model) => store.PlaceOf(model)?.Owner == account.Id;

    public Access OfFolder(string folder) => Limited(account.IsAdministrator ? Access.Administer : Given(folder));

    Access Limited(Access access) => mayEdit || access < Access.View ? access : Access.View;

    /// <summary>What was said of the folder itself counts before what was said of those above; of one folder, what is said of the account
    /// before what is said of everybody.</summary>
    Access Given(string folder)
    {
        for (var path = folder; ; path = path.LastIndexOf('/') is >= 0 and var slash ? path[..slash] : "")
        {
            var here = grants.Value.Where(g => g.Folder == path).ToList();
            if ((here.Find(g => g.Account.Length > 0) ?? here.FirstOrDefault()) is { } grant)
                return grant.May;
            if (path.Length == 0)
                return Access.None;
        }
    }
}
