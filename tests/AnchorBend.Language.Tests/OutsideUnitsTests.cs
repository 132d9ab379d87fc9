using AnchorBend.Language.Terms;

namespace AnchorBend.Language.Tests;

/// <summary>Units that compute outside of the equations, as one run has them.</summary>
public class OutsideUnitsTests
{
    sealed class Counter : IOutsideSteps, IDisposable
    {
        double added;

        public bool IsClosed { get; private set; }

        public double Time { get; private set; }

        public void Put(int input, double value) => added = value + input;

        public void Step(double time) => Time = time;

        public double Get(int output) => 100 * output + added;

        public byte[] Save() => BitConverter.GetBytes(added);

        public void Restore(byte[] state) => added = BitConverter.ToDouble(state);

        public void Dispose() => IsClosed = true;
    }

    static readonly Dictionary<long, IOutsideUnit> None = [];

    [Fact]
    public void Code_calls_the_units_of_the_run_that_it_is_of()
    {
        var (mine, yours) = (new Counter(), new Counter());
        using var first = new OutsideUnits(new Dictionary<long, IOutsideUnit> { [1] = mine });
        using var second = new OutsideUnits(new Dictionary<long, IOutsideUnit> { [1] = yours });
        first.Attend();
        Assert.Equal(4, OutsideUnits.Put(1, 0, 8, 4));
        second.Attend();
        Assert.Equal(0.5, OutsideUnits.Step(1, 3, 0.5));
        Assert.Equal((8, 3.0, 0.0), (mine.Get(0), yours.Time, mine.Time));
        Assert.Equal(200, OutsideUnits.Get(1, 2, 0));
    }

    [Fact]
    public void A_unit_that_is_offered_is_opened_once_for_each_run_and_closed_with_it()
    {
        var kind = OutsideUnits.KindOf("0123456789abcdef");
        var made = new List<Counter>();
        OutsideUnits.Offer(kind, () =>
        {
            made.Add(new Counter());
            return made[^1];
        });
        Assert.True(OutsideUnits.IsOffered(kind));
        var number = kind * OutsideUnits.PerOffer + 5;
        using (var run = new OutsideUnits(None))
        {
            Assert.Same(run.Find(number), run.Find(number));
            Assert.NotSame(run.Find(number), run.Find(number + 1));
            Assert.Equal([number, number + 1], run.All.Select(u => u.Number));
        }

        Assert.Equal(2, made.Count);
        Assert.All(made, u => Assert.True(u.IsClosed));
        using var other = new OutsideUnits(None);
        Assert.NotNull(other.Find(number));
        Assert.Equal(3, made.Count);
    }

    /// <summary>Wrong values would be worse than none: what is not there gives no number, and the run ends by that.</summary>
    [Fact]
    public void What_is_not_there_gives_no_number()
    {
        using var run = new OutsideUnits(None);
        run.Attend();
        Assert.Null(run.Find(7));
        Assert.Equal(1, OutsideUnits.Step(7, 0, 1));
        Assert.True(double.IsNaN(OutsideUnits.Get(7, 0, 1)));
    }

    /// <summary>Numbers go through the equations as reals, and must be whole there.</summary>
    [Theory]
    [InlineData("000000000")]
    [InlineData("fffffffff")]
    public void Numbers_of_units_are_exact_as_reals(string hash)
    {
        var number = OutsideUnits.KindOf(hash) * OutsideUnits.PerOffer + OutsideUnits.PerOffer - 1;
        Assert.Equal(number, (long)(double)number);
        Assert.NotEqual((double)number, number - 1.0);
    }
}
