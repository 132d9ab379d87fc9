using AnchorBend.Language.Syntax;

namespace AnchorBend.Language.Tests;

public class DecimalCommaTests
{
    [Theory]
    [InlineData("0,5", "0.5")]
    [InlineData("1,5 s", "1.5 s")]
    [InlineData("-12,25 kN.m", "-12.25 kN.m")]
    [InlineData("3,14*2", "3.14*2")]
    [InlineData("2*0,5 rpm", "2*0.5 rpm")]
    public void A_decimal_comma_is_told_with_what_was_meant(string typed, string meant)
    {
        var told = Assert.Throws<LanguageException>(() => Parser.ParseField(typed)).Error;
        Assert.Equal(("decimal-comma", $"Did you mean {meant}?"), (told.Code, told.Suggestion));
        Parser.ParseField(meant);
    }

    /// <summary>One, or a thousand; a half, or five hundred and more.</summary>
    [Theory]
    [InlineData("1,000")]
    [InlineData("1.234,5")]
    [InlineData("1,5 + 2,5")]
    public void Where_it_is_not_clear_nothing_is_proposed(string typed)
    {
        var told = Assert.Throws<LanguageException>(() => Parser.ParseField(typed)).Error;
        Assert.Equal("decimal-comma", told.Code);
        Assert.StartsWith("Write it with a point", told.Suggestion);
    }

    [Theory]
    [InlineData("{0,5}")]
    [InlineData("max(1,2)")]
    [InlineData("[1,2; 3,4]")]
    public void Within_lists_and_calls_commas_are_what_they_are(string typed) => Parser.ParseField(typed);
}
