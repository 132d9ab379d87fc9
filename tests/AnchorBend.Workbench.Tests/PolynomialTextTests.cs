using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Tests;

public class PolynomialTextTests
{
    [Theory]
    [InlineData("{1, 3, 2}", " s^{2}+3 s+2")]
    [InlineData("{-2, 0, 0.5}", "-2 s^{2}+0.5")]
    [InlineData("{1}", "1")]
    [InlineData("{0, 0}", "0")]
    [InlineData("{T, 1}", "T s+1")]
    [InlineData("{1, 2, 3, 4, 5}", null)]
    [InlineData("{T^2, 1}", null)]
    [InlineData("fill(1, 3)", null)]
    [InlineData("{1,", null)]
    public void Coefficients_are_written_as_a_polynomial_where_a_face_has_room(string list, string? tex) =>
        Assert.Equal(tex, PolynomialText.Of(list, "s"));

    [Fact]
    public void A_transfer_function_shows_its_numbers()
    {
        var part = new PartNode
        {
            Type = "TransferFunction",
            Name = "G",
            Parameters = { ["b"] = "{2}", ["a"] = "{0.1, 1}" },
        };
        var described = PartCatalog.Standard.Describe("TransferFunction");
        Assert.Equal(@"\frac{2}{0.1 s+1}", FaceText.Of(described, part));
        part.Parameters["a"] = "{1, 2, 3, 4, 5, 6}";
        Assert.Equal(@"\frac{2}{a(s)}", FaceText.Of(described, part));
    }

    [Fact]
    public void A_fraction_in_a_fraction_is_written_with_a_stroke()
    {
        var part = new PartNode
        {
            Type = "Integrator",
            Name = "I",
            Parameters = { ["k"] = "1/(m+J)" },
        };
        Assert.Equal(
            @"\frac{1/(m+J)}{s}",
            FaceText.Of(PartCatalog.Standard.Describe("Integrator"), part).Replace(" ", "", StringComparison.Ordinal)
        );
    }
}
