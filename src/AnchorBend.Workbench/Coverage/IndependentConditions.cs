namespace AnchorBend.Workbench.Coverage;

/// <summary>
/// Modified condition/decision coverage with unique causes: a condition is shown to decide alone where two ways were seen in which it came
/// out differently, the whole did too, and no other condition that was asked both times differed (J. J. Chilenski, S. P. Miller,
/// "Applicability of modified condition/decision testing to software testing", Software Engineering Journal 9, 1994). What was not asked,
/// as another condition had decided already, could not have mattered.
/// </summary>
static class IndependentConditions
{
    /// <summary>Whether ways show that a condition decides alone.</summary>
    /// <param name="ways">Of each condition T, F or - where it was not asked; last what came of them.</param>
    public static bool Shown(int condition, IReadOnlyCollection<string> ways)
    {
        foreach (var held in ways.Where(w => w[condition] == 'T'))
        foreach (var not in ways.Where(w => w[condition] == 'F'))
            if (held[^1] != not[^1] && Differ(held, not, condition))
                return true;
        return false;
    }

    /// <summary>Whether two ways differ in one condition alone.</summary>
    static bool Differ(string one, string other, int condition)
    {
        for (var i = 0; i < one.Length - 1; i++)
            if (i != condition && one[i] != '-' && other[i] != '-' && one[i] != other[i])
                return false;
        return true;
    }
}
