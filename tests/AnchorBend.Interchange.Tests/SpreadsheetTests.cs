using System.Text;
using AnchorBend.Interchange.Sheets;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Interchange.Tests;

public class SpreadsheetTests
{
    static IReadOnlyList<IReadOnlyList<object?>> Read(string text) => SpreadsheetFile.Read(Encoding.UTF8.GetBytes(text));

    /// <summary>As a spreadsheet writes it where numbers have a decimal comma, and where they have a point.</summary>
    [Theory]
    [InlineData("name;value;unit\n\"J1; first\";0,42;kg.m2\nJ2;-1,5e-3;\n")]
    [InlineData("name\tvalue\tunit\n\"J1; first\"\t0,42\tkg.m2\nJ2\t-1.5e-3\t\n")]
    [InlineData("\uFEFFname,value,unit\r\n\"J1; first\",0.42,kg.m2\r\nJ2,-0.0015,\r\n")]
    public void Numbers_are_read_with_the_decimal_sign_that_the_separators_leave(string text)
    {
        var rows = Read(text);
        Assert.Equal(["name", "value", "unit"], rows[0]);
        Assert.Equal(["J1; first", 0.42, "kg.m2"], rows[1]);
        Assert.Equal(["J2", -0.0015, null], rows[2]);
    }

    /// <summary>A comma between cells is none in a number: such a number has to stand in quotation marks, and is a text.</summary>
    [Fact]
    public void Between_commas_a_comma_makes_no_number() => Assert.Equal(["a", "0,5"], Read("a,\"0,5\"\n")[0]);

    /// <summary>12,500 is twelve and a half or twelve thousand five hundred: unless another number of the table decides it, nobody
    /// guesses.</summary>
    [Theory]
    [InlineData("F\t12,500\nG\t3,000\n", "12,500", "3,000")]
    [InlineData("F\t12,500\nG\t3,25\n", 12.5, 3.25)]
    [InlineData("F;12,500\nG;0,125\n", 12.5, 0.125)]
    [InlineData("F;12,500\nG;1234,567\n", 12.5, 1234.567)]
    public void A_comma_that_may_part_thousands_is_no_decimal_sign_by_itself(string text, object first, object second) =>
        Assert.Equal([first, second], Read(text).Select(r => r[1]));

    [Fact]
    public void A_text_that_is_far_too_wide_is_refused_at_once()
    {
        var refused = Assert.Throws<DocumentException>(() => Read(new string(',', 1_000_000)));
        Assert.Contains("at most 60000 rows and 100 columns", refused.Message);
    }
}
