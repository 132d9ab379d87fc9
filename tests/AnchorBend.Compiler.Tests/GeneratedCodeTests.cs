using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using CsCheck;

namespace AnchorBend.Compiler.Tests;

/// <summary>Generated machine code computes the same bits as the evaluator of terms, whatever the terms are.</summary>
public unsafe class GeneratedCodeTests
{
    const int Variables = 6;

    static readonly Operator[] Unary =
    [
        Operator.Negate,
        Operator.Absolute,
        Operator.Sign,
        Operator.SquareRoot,
        Operator.Sin,
        Operator.Cos,
        Operator.Exp,
        Operator.Floor,
    ];

    static readonly Operator[] Binary =
    [
        Operator.Add,
        Operator.Subtract,
        Operator.Multiply,
        Operator.Divide,
        Operator.Minimum,
        Operator.Maximum,
        Operator.Atan2,
    ];

    static readonly Operator[] Comparisons = [Operator.Less, Operator.LessOrEqual, Operator.Greater, Operator.GreaterOrEqual];

    static Gen<T> One<T>(params T[] values) => Gen.Int[0, values.Length - 1].Select(i => values[i]);

    /// <summary>Terms of a given depth over a few inputs, conditions included; few leaves, so that subterms come twice.</summary>
    static Gen<Term> Terms(int depth)
    {
        var leaf = Gen.OneOf(
            Gen.Int[0, Variables - 1].Select(i => (Term)new VariableTerm(First + i)),
            One(0.0, 1.0, -1.0, 2.5, -0.5, 1e-3).Select(Term.Of)
        );
        if (depth == 0)
            return leaf;
        var inner = Terms(depth - 1);
        return Gen.OneOf(
            leaf,
            Gen.Select(One(Unary), inner).Select(t => (Term)new OperationTerm(t.Item1, t.Item2)),
            Gen.Select(One(Binary), inner, inner).Select(t => (Term)new OperationTerm(t.Item1, t.Item2, t.Item3)),
            Gen.Select(One(Comparisons), inner, inner, inner, inner)
                .Select(t => (Term)new ConditionalTerm(new OperationTerm(t.Item1, t.Item2, t.Item3), t.Item4, t.Item5)),
            Gen.Select(inner, One(2.0, 3.0, 4.0, -1.0, -2.0))
                .Select(t => (Term)new OperationTerm(Operator.Power, t.Item1, Term.Of(t.Item2)))
        );
    }

    /// <summary>Index of the first input: time and the initial flag stand before it.</summary>
    const int First = 2;

    [Fact]
    public void Code_and_evaluator_agree_in_every_bit() =>
        Gen.Select(Terms(4).Array[1, 12], Gen.Double[-3, 3].Array[Variables])
            .Sample(
                (terms, inputs) =>
                {
                    var plan = Prepared(terms);
                    var (code, expected) = (Run(plan, inputs), Evaluated(plan.Plan, inputs));
                    foreach (var block in plan.Plan.Blocks.Cast<AssignmentBlock>())
                        Assert.True(
                            Same(code[block.Variable], expected[block.Variable]),
                            $"{TermText.Print(block.Value, plan.Plan.Model.NameOf)} at {string.Join(", ", inputs)}: "
                                + $"{code[block.Variable]:R}, not {expected[block.Variable]:R}"
                        );
                },
                iter: 3000
            );

    /// <summary>Equal bits, or both no number.</summary>
    static bool Same(double a, double b) =>
        BitConverter.DoubleToInt64Bits(a) == BitConverter.DoubleToInt64Bits(b) || double.IsNaN(a) && double.IsNaN(b);

    static double[] Evaluated(ExecutionPlan plan, double[] inputs)
    {
        var values = new double[plan.Model.Variables.Count];
        inputs.CopyTo(values, First);
        var evaluator = new TermEvaluator(i => values[i]);
        foreach (var block in plan.Blocks.Cast<AssignmentBlock>())
            values[block.Variable] = evaluator.Evaluate(block.Value);
        return values;
    }

    /// <summary>A model whose unknowns are the terms, over inputs from outside that nothing folds away.</summary>
    static CompiledPlan Prepared(Term[] terms)
    {
        var model = new FlatModel { Name = "M" };
        FlatVariable Add(string name, VariableRole role, ScalarType type = ScalarType.Real)
        {
            var variable = new FlatVariable(model.Variables.Count, name, role, type);
            model.Variables.Add(variable);
            return variable;
        }

        Add("time", VariableRole.External);
        Add("initial()", VariableRole.External, ScalarType.Boolean);
        for (var i = 0; i < Variables; i++)
            Add($"u{i}", VariableRole.External);
        foreach (var (term, i) in terms.Select((t, i) => (t, i)))
            model.Equations.Add(new FlatEquation(new VariableTerm(Add($"y{i}", VariableRole.Continuous).Index), term, "", default));
        var prepared = PreparedModel.Prepare(model, [], SourceMap.Empty);
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings));
        return prepared.Compiled!;
    }

    static double[] Run(CompiledPlan plan, double[] inputs)
    {
        var memory = new double[plan.Layout.Size];
        fixed (double* m = memory)
        {
            new ParameterSet(plan.Plan.Model).Load(plan, m);
            inputs.CopyTo(memory, First);
            double none = 0;
            foreach (var chunk in plan.Chunks)
                chunk(null!, 0, &none, &none, m, EvaluationMode.Event);
        }

        return memory;
    }
}
