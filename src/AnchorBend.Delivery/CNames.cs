using System.Text;

namespace AnchorBend.Delivery;

/// <summary>Names of C from names of the model: the same each time, each used once.</summary>
sealed class CNames
{
    /// <summary>ISO/IEC 9899:1999, section 6.4.1, and what headers define as macros.</summary>
    static readonly string[] Keywords =
    [
        .. (
            "auto break case char const continue default do double else enum extern float for goto if inline int long register restrict "
            + "return short signed sizeof static struct switch typedef union unsigned void volatile while bool true false NULL NAN INFINITY"
        ).Split(' '),
    ];

    /// <summary>What the code itself and the headers call by name.</summary>
    static readonly string[] Used =
    [
        .. (
            "s p u y x t dx n k1 k2 k3 k4 r a trial main exp log log10 pow sqrt sin cos tan asin acos atan atan2 sinh cosh tanh fabs "
            + "floor ceil trunc fmod abs div rem round time clock signal gamma y0 y1 yn j0 j1 jn index remove rename remquo changed "
            + "settled count initial unsettled unsolved unused least greatest sign_of modulo remainder_of power eliminate "
            + "table_at table_in table_held decides solved goes largest"
        ).Split(' '),
    ];

    /// <summary>Clocks that a unit may have; counters to their ticks are numbered.</summary>
    const int MostClocks = 100;

    readonly HashSet<string> taken;

    CNames(IEnumerable<string> taken) => this.taken = [.. taken];

    /// <summary>Names of variables.</summary>
    public CNames()
        : this([.. Keywords, .. Used, .. Enumerable.Range(1, MostClocks).Select(n => $"wait_{n}")]) { }

    /// <summary>Names within a structure, which nothing outside of it clashes with.</summary>
    public static CNames OfMembers() => new(Keywords);

    /// <summary>Letters, digits and single underscores; a Greek or accented letter is left out.</summary>
    public static string Plain(string text)
    {
        var result = new StringBuilder();
        foreach (var c in text)
            if (char.IsAsciiLetterOrDigit(c))
                result.Append(c);
            else if (c == '′' || c == '\'')
                continue;
            else if (result.Length > 0 && result[^1] != '_')
                result.Append('_');
        while (result.Length > 0 && result[^1] == '_')
            result.Length--;
        if (result.Length == 0)
            return "part";
        return char.IsAsciiDigit(result[0]) ? "n" + result : result.ToString();
    }

    /// <summary>A name in small letters with underscores, as functions and files are called.</summary>
    public static string Small(string text)
    {
        var plain = Plain(text);
        var result = new StringBuilder();
        for (var i = 0; i < plain.Length; i++)
        {
            if (i > 0 && char.IsUpper(plain[i]) && char.IsLower(plain[i - 1]))
                result.Append('_');
            result.Append(char.ToLowerInvariant(plain[i]));
        }

        return result.ToString();
    }

    public string Free(string wanted)
    {
        var name = wanted;
        for (var n = 2; !taken.Add(name); n++)
            name = $"{wanted}_{n}";
        return name;
    }
}
