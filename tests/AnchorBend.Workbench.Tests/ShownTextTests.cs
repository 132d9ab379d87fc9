using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Tests;

public class ShownTextTests
{
    [Theory]
    [InlineData("1.5E-07 are left.", "1.5·10⁻⁷ are left.")]
    [InlineData("it grew to 1E+305", "it grew to 1·10³⁰⁵")]
    [InlineData("at -2.25E+10 s", "at -2.25·10¹⁰ s")]
    [InlineData("the part E1, x2E3 and MODE4E5", "the part E1, x2E3 and MODE4E5")]
    public void Powers_of_ten_are_written_as_such_and_names_left_alone(string text, string shown) =>
        Assert.Equal(shown, ShownText.Of(text));
}
