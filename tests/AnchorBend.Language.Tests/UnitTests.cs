using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;

namespace AnchorBend.Language.Tests;

public class UnitTests
{
    [Theory]
    [InlineData("250", "rpm", "rad/s", 26.179938779914945)]
    [InlineData("1", "Hz", "rad/s", 6.283185307179586)]
    [InlineData("1", "Hz", "1/s", 1)]
    [InlineData("90", "deg", "rad", 1.5707963267948966)]
    [InlineData("20", "degC", "K", 293.15)]
    [InlineData("212", "degF", "degC", 100)]
    [InlineData("2.5", "bar", "Pa", 250000)]
    [InlineData("12", "l/min", "m3/s", 0.0002)]
    [InlineData("2", "h", "s", 7200)]
    [InlineData("3", "kN.m", "N.m", 3000)]
    [InlineData("36", "km/h", "m/s", 10)]
    [InlineData("1", "kW.h", "J", 3.6e6)]
    [InlineData("5", "W/(m2.K)", "W/(m2.K)", 5)]
    [InlineData("10", "kn", "m/s", 5.144444444444445)]
    public void Converts_between_units_of_a_dimension(string number, string from, string to, double expected)
    {
        var value = double.Parse(number, System.Globalization.CultureInfo.InvariantCulture);
        var (a, b) = (Unit.Parse(from), Unit.Parse(to));
        Assert.True(a.Fits(b));
        Assert.Equal(
            expected,
            a.ConvertTo(b, value),
            12 + (int)-Math.Log10(Math.Abs(expected)) is var digits and > 0 and < 15 ? digits : 9
        );
    }

    [Theory]
    [InlineData("N.m", "J", true)]
    [InlineData("Pa", "N/m2", true)]
    [InlineData("V.A", "kg.m2/s3", true)]
    [InlineData("N", "kg", false)]
    [InlineData("rad/s", "Hz", true)]
    public void Dimensions_decide_what_fits(string a, string b, bool fits) => Assert.Equal(fits, Unit.Parse(a).Fits(Unit.Parse(b)));

    [Theory]
    [InlineData("rmp", "rpm")]
    [InlineData("bra", "bar")]
    public void A_misspelt_unit_is_recognised(string typed, string meant) => Assert.Equal(meant, UnitTable.Closest(typed));

    [Theory]
    [InlineData("250 rpm", 250, "rpm")]
    [InlineData("5 %", 5, "%")]
    [InlineData("20 °C", 20, "degC")]
    [InlineData("3 N·m", 3, "N.m")]
    [InlineData("1e-3 m/s2", 0.001, "m/s2")]
    public void A_field_takes_a_number_with_a_unit(string text, double value, string unit)
    {
        var quantity = Assert.IsType<Quantity>(Parser.ParseField(text));
        Assert.Equal(unit, quantity.Unit.Symbol);
        Assert.Equal(value, ((NumberLiteral)quantity.Value).Value);
    }

    [Fact]
    public void A_field_with_nonsense_behind_the_number_says_so()
    {
        var error = Assert.Throws<LanguageException>(() => Parser.ParseField("3 metrs"));
        Assert.Equal("unit", error.Error.Code);
    }

    [Theory]
    [InlineData("N.m", "N·m")]
    [InlineData("m/s2", "m/s²")]
    [InlineData("degC", "°C")]
    public void Shows_units_as_people_write_them(string unit, string shown) => Assert.Equal(shown, Unit.Pretty(unit));

    [Theory]
    [InlineData("l/min", "m3/s")]
    [InlineData("l", "m3")]
    [InlineData("kW", "W")]
    [InlineData("bar", "Pa")]
    [InlineData("degC", "K")]
    [InlineData("mm", "m")]
    public void The_usual_unit_of_a_dimension_is_the_one_that_values_are_in(string symbol, string expected)
    {
        var usual = UnitTable.Usual(Unit.Parse(symbol).Dimension);
        Assert.Equal(expected, usual);
        Assert.Equal((1.0, 0.0), (Unit.Parse(usual).Factor, Unit.Parse(usual).Offset));
    }
}
