using AnchorBend.Language.Terms;

namespace AnchorBend.Language.Tests;

public class TermKeyTests
{
    [Fact]
    public void Equal_terms_have_one_key_and_changed_ones_another()
    {
        for (var seed = 0; seed < 400; seed++)
        {
            var generator = new TermGenerator(seed, 4);
            var term = generator.Next(5);
            Assert.Equal(term.Key, TermGenerator.Copy(term).Key);
            for (var i = 0; i < 10; i++)
            {
                var changed = generator.Changed(term);
                Assert.True(term.Key != changed.Key, $"{term} and {changed}");
            }
        }
    }

    [Fact]
    public void What_reads_alike_for_people_is_told_apart()
    {
        VariableTerm x = new(0),
            y = new(1);
        var watched = new RelationTerm(Operator.Greater, x, y);
        var silent = new OperationTerm(Operator.Greater, x, y);
        Assert.Equal(watched.ToString(), silent.ToString());
        Assert.NotEqual(watched.Key, silent.Key);
        TableTerm Table(double last) => new([x, Term.Of(0), Term.Of(1), Term.Of(0), Term.Of(last)], TableKind.Linear, false);
        Assert.Equal(Table(1).ToString(), Table(2).ToString());
        Assert.NotEqual(Table(1).Key, Table(2).Key);
        Assert.NotEqual(new DelayTerm(0).Key, new DelayTerm(0, y).Key);
        Assert.NotEqual(new ConstantTerm(0).Key, new ConstantTerm(-0.0).Key);
        Assert.NotEqual(new VariableTerm(1).Key, new PreviousTerm(1).Key);
    }

    [Fact]
    public void Partial_derivatives_of_many_variables_are_those_of_each()
    {
        for (var seed = 0; seed < 300; seed++)
        {
            var term = new TermGenerator(seed, 5).Next(6);
            var all = new PartialDerivatives(term);
            for (var v = 0; v < 6; v++)
                Assert.Equal(TermDerivative.Partial(term, v).Key, all.Along(v).Key);
        }
    }

    [Fact]
    public void A_long_sum_is_differentiated_along_all_its_variables_in_little_more_than_its_length()
    {
        // Each derivative looks at about log n of the sum's terms: the count of visits is what is measured, by the seeds that are asked
        // for.
        const int n = 4000;
        var sum = TermBuilder.Join(
            [.. Enumerable.Range(0, n).Select(i => TermBuilder.Multiply(Term.Of(i + 2), new VariableTerm(i)))],
            Term.Zero,
            TermBuilder.Add
        );
        var partials = new PartialDerivatives(sum);
        for (var v = 0; v < n; v++)
            Assert.Equal(v + 2, Assert.IsType<ConstantTerm>(partials.Along(v)).Value);
        Assert.True(partials.Along(n + 1).IsConstant(0));
    }
}
