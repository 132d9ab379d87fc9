using AnchorBend.Workbench.Coverage;

namespace AnchorBend.Workbench.Tests;

/// <summary>Which conditions are shown to decide alone, against what the definition says of small decisions.</summary>
public class IndependentConditionsTests
{
    static string Shown(int conditions, params string[] ways) =>
        string.Concat(Enumerable.Range(0, conditions).Select(c => IndependentConditions.Shown(c, ways) ? 'x' : '.'));

    [Theory]
    // a and b: with all three ways both are shown; without one of them not.
    [InlineData("TTT TFF F-F", "xx")]
    [InlineData("TTT F-F", "x.")]
    [InlineData("TTT TFF", ".x")]
    [InlineData("TFF F-F", "..")]
    // a or b.
    [InlineData("T-T FTT FFF", "xx")]
    [InlineData("T-T FFF", "x.")]
    [InlineData("FTT FFF", ".x")]
    public void Of_two(string ways, string shown) => Assert.Equal(shown, Shown(2, ways.Split(' ')));

    [Theory]
    // (a or b) and c needs four ways.
    [InlineData("T-TT FTTT FF-F T-FF", "xxx")]
    [InlineData("T-TT FTTT T-FF", "..x")]
    // From a way with another c nothing follows for a.
    [InlineData("T-TT FF-F", "x..")]
    [InlineData("T-FF FTTT", "...")]
    public void Of_three(string ways, string shown) => Assert.Equal(shown, Shown(3, ways.Split(' ')));

    [Fact]
    public void N_conditions_put_together_by_and_need_one_way_more_than_there_are_and_no_fewer()
    {
        // All hold; or the i-th is the first that fails, which ends it.
        const int n = 6;
        List<string> all =
        [
            new string('T', n + 1),
            .. Enumerable.Range(0, n).Select(i => new string('T', i) + 'F' + new string('-', n - i - 1) + 'F'),
        ];
        Assert.Equal(new string('x', n), Shown(n, [.. all]));
        for (var missing = 0; missing < all.Count; missing++)
            Assert.Contains('.', Shown(n, [.. all.Where((_, i) => i != missing)]));
    }
}
