using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Compiler.Tests;

/// <summary>What is lowered means the same to everyone who reads it: machine code and a walk over it give the same bits.</summary>
public unsafe class LoweredProgramTests
{
    const string Mixed = """
        parameter Real k = 3; Real x(start = 1), v(start = -0.5), y, z; discrete Real n(start = 2), m(start = 1); Boolean b; Integer c(start = 0);
        equation
        der(x) = v; der(v) = -k * x ^ 3 - 0.1 * v + (if x > 0.5 then n else sin(x) / (1 + v ^ 2));
        y = max(abs(x), v) + (if b and not x > v then exp(-x) else exp(-x) * 2); z = atan2(v, x) + mod(7.5, 2) + x ^ (-2);
        b = x > 0.2 or v < -0.1;
        algorithm
        when {x > 0.5, b, time > 0.1} then
          m := n + 1; n := if m > 2 then m / 3 else x;
          for i in 1:3 loop if i * n > 1 then c := c + i; elseif v > 0 then c := -i; else n := n + v; end if; end for;
        elsewhen v > 0.7 then
          c := 10; m := pre(n);
        end when;
        """;

    static (LoweredProgram Program, MemoryLayout Layout) Lowered(ExecutionPlan plan, bool counting = false)
    {
        var relations = Enumerable.Range(0, plan.Relations.Count).Where(r => plan.Relations[r].Kind == RelationKind.State).ToArray();
        var layout = new MemoryLayout(plan);
        var program = PlanLowering.Lower(plan, layout, new EventIndicators(plan, relations)).Program;
        return (counting ? new CountedProgram(program, layout).Program : program, layout);
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void Machine_code_and_a_walk_agree_in_every_bit_in_every_mode(bool counting)
    {
        var compiled = PlanEmitter.Compile(TextModel.Prepare(Mixed).Compiled!.Plan, counting);
        var (program, layout) = Lowered(compiled.Plan, counting);
        Assert.Equal(compiled.Layout.Size, layout.Size);
        var random = new Random(3);
        for (var trial = 0; trial < 2000; trial++)
        {
            using var instance = new ModelInstance(compiled, new ParameterSet(compiled.Plan.Model));
            var memory = new double[layout.Size];
            for (var i = 0; i < memory.Length; i++)
                memory[i] = instance.Memory[i];
            // Anything may stand where values are computed; parameters and what is hoisted from them stay.
            for (var i = 0; i < layout.HoistBase; i++)
                if (i >= layout.PreviousBase || compiled.Plan.Model.Variables[i].Role is not Modeling.Flat.VariableRole.Parameter)
                    memory[i] = instance.Memory[i] = random.Next(3) switch
                    {
                        0 => random.Next(2),
                        1 => 4 * random.NextDouble() - 2,
                        _ => random.Next(-3, 4),
                    };
            double[] states = [2 * random.NextDouble() - 1, 2 * random.NextDouble() - 1];
            var (time, mode) = (random.NextDouble(), random.Next(3));
            double[] x = [.. states],
                dx = [0, 0],
                slopes = [0, 0];
            fixed (double* s = states)
            fixed (double* d = slopes)
                instance.Evaluate(time, s, d, mode);
            memory[Modeling.Flat.FlatModel.TimeIndex] = time;
            var walk = new LoweredInterpreter(time, x, dx, memory, mode);
            for (var c = 0; c < program.Chunks.Count; c++)
                if (mode > EvaluationMode.Derivatives || program.IsForDerivatives[c])
                    walk.Run(program.Chunks[c]);
            Assert.Equal(Bits(slopes), Bits(dx));
            Assert.Equal(Bits(new ReadOnlySpan<double>(instance.Memory, layout.Size)), Bits(memory));
        }
    }

    static long[] Bits(ReadOnlySpan<double> values) => [.. values.ToArray().Select(BitConverter.DoubleToInt64Bits)];

    [Fact]
    public void Steps_are_cut_into_routines_of_limited_size_and_do_the_same()
    {
        // Some 2,000 steps under one condition, so that they stand in several routines.
        var names = Enumerable.Range(1, 400).Select(i => $"n{i}").ToList();
        var text =
            $"discrete Real {string.Join(", ", names.Select(n => $"{n}(start = 0, fixed = true)"))};\nalgorithm\nwhen sample(0.1, 0.1) then\n"
            + string.Concat(names.Select((n, i) => $"if pre({n}) < {i % 7} then {n} := pre({n}) + 1; else {n} := 0; end if;\n"))
            + "end when;\n";
        var prepared = TextModel.Prepare(text);
        Assert.True(prepared.Compiled!.Chunks.Length > 4);
        var result = TextModel.Run(prepared, new RunOptions { End = 1.05 });
        foreach (var i in (int[])[0, 1, 6, 200, 399])
        {
            // Ten ticks: up to i % 7, then from 0 again.
            Assert.Equal(10 % (i % 7 + 1), result.Trace[result.Trace.Rows - 1, prepared.Compiled.Plan.RepresentativeOf(names[i])]);
        }
    }
}
