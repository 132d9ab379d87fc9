using AnchorBend.Language.Syntax;
using CsCheck;

namespace AnchorBend.Language.Tests;

public class LexerAndParserTests
{
    [Theory]
    [InlineData("a + b * c", "a + b * c")]
    [InlineData("(a + b) * c", "(a + b) * c")]
    [InlineData("a - (b - c)", "a - (b - c)")]
    [InlineData("a - b - c", "a - b - c")]
    [InlineData("-a ^ 2", "-a^2")]
    [InlineData("2 ^ -x", "2^(-x)")]
    [InlineData("not a and b or c", "not a and b or c")]
    [InlineData("if a > 0 then 1 elseif b then 2 else 3", "if a > 0 then 1 elseif b then 2 else 3")]
    [InlineData("{1, 2.5, x[3]}", "{1, 2.5, x[3]}")]
    [InlineData("[1, 2; 3, 4]", "[1, 2; 3, 4]")]
    [InlineData("drum.gear[2].w", "drum.gear[2].w")]
    [InlineData("{i ^ 2 for i in 1:n}", "{i^2 for i in 1:n}")]
    [InlineData("'Speed controller'.u", "'Speed controller'.u")]
    [InlineData("1e-3", "0.001")]
    public void Prints_expressions_so_that_they_read_back(string source, string printed)
    {
        var text = ExpressionText.Print(Parser.ParseExpression(source));
        Assert.Equal(printed, text);
        Assert.Equal(text, ExpressionText.Print(Parser.ParseExpression(text)));
    }

    [Fact]
    public void A_syntax_error_has_line_column_and_a_suggestion()
    {
        var (_, errors) = Parser.ParseFile("model M\n  Real x;\nequation\n  x := 3;\nend M;");
        var error = Assert.Single(errors);
        Assert.Equal(new Position(4, 5), error.At);
        Assert.Contains("'='", error.Suggestion, StringComparison.Ordinal);
    }

    [Fact]
    public void One_error_does_not_hide_the_next()
    {
        var (classes, errors) = Parser.ParseFile("model M\n  Real x = ;\n  Real y = 2;\nequation\n  der(x = 1;\n  y = * 2;\nend M;");
        Assert.Equal(3, errors.Count);
        Assert.Equal(["y"], classes.Single().Components.Select(c => c.Name));
    }

    [Fact]
    public void A_wrong_end_name_is_told_with_both_names()
    {
        var (_, errors) = Parser.ParseFile("block A\nend B;");
        Assert.Contains("'end B' closes 'A'", Assert.Single(errors).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Sections_and_prefixes_are_kept()
    {
        var (classes, errors) = Parser.ParseFile(
            """
            block B "A block"
              input Real u; output Real y;
              parameter Real k(unit = "N", min = 0) = 2 "Gain";
            protected
              discrete Real held(start = 1);
            equation
              when {sample(0, 0.1), initial()} then held = u; elsewhen u > 3 then held = 0; end when;
              for i in 1:3 loop y = k * held; end for;
              if k > 1 then y = 1; else y = 2; end if;
              if u > 0 then 1 else 2 = y;
            end B;
            """
        );
        Assert.Empty(errors);
        var block = classes.Single();
        Assert.True(block.Components.Single(c => c.Name == "held").IsProtected);
        Assert.Equal(Variability.Parameter, block.Components.Single(c => c.Name == "k").Variability);
        Assert.Collection(
            block.Equations,
            e => Assert.IsType<WhenEquation>(e),
            e => Assert.IsType<ForEquation>(e),
            e => Assert.IsType<IfEquation>(e),
            e => Assert.IsType<EqualEquation>(e)
        );
    }

    [Fact]
    public void Deep_nesting_is_refused_instead_of_ending_the_process()
    {
        var error = Assert.Throws<LanguageException>(() => Parser.ParseExpression(new string('(', 100_000) + "1"));
        Assert.Equal("nesting", error.Error.Code);
        Assert.Throws<LanguageException>(() => Parser.ParseExpression(string.Join("+", Enumerable.Repeat("1", 10_000))));
        Assert.Throws<LanguageException>(() => Parser.ParseExpression(string.Concat(Enumerable.Repeat("-", 50_000)) + "1"));
    }

    [Fact]
    public void Mutated_texts_give_errors_and_never_anything_else()
    {
        const string seed =
            "block Lag \"x\" input Real u; output Real y; parameter Real T(unit=\"s\")=1; protected Real x(start=0); equation T*der(x)=u-x; when x>{1,2}[1] then reinit(x,0); end when; y=if x>0 then x else -x; annotation(__AnchorBend(face=\"\\frac{1}{s}\")); end Lag;";
        Gen.Select(Gen.Int[0, seed.Length - 1], Gen.Int[0, 12], Gen.String[Gen.Char[" ;(){}[]=<>+-*/^.,:'\"abcendif0123456789\n\\$"], 0, 8])
            .List[1, 4]
            .Sample(
                changes =>
                {
                    var text = seed;
                    foreach (var (at, length, insert) in changes)
                    {
                        var start = Math.Min(at, text.Length);
                        text = text[..start] + insert + text[Math.Min(text.Length, start + length)..];
                    }

                    Parser.ParseFile(text);
                },
                iter: 20_000
            );
    }
}
