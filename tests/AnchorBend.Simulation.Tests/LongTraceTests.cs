using AnchorBend.Simulation.Recording;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

public class LongTraceTests
{
    [Fact]
    public void A_long_trace_goes_to_disk_and_reads_like_a_short_one()
    {
        var prepared = TextModel.Prepare("Real x(start = 1), v, w; equation der(x) = v; der(v) = -x; w = 2 * x;");
        var result = TextModel.Run(
            prepared,
            new RunOptions
            {
                End = 2000,
                Method = IntegrationMethod.RungeKutta4,
                Step = 1e-3,
                OutputInterval = 1e-3,
            }
        );
        Assert.Null(result.Failure);
        var trace = result.Trace;
        Assert.Equal(2_000_001, trace.Rows);
        Assert.InRange(trace.ResidentBytes, 1 << 20, 40 << 20);
        Assert.True(trace.Bytes > 60 << 20);
        var x = prepared.Compiled!.Plan.RepresentativeOf("x");
        var column = trace.Column(x);
        foreach (var row in new[] { 0, 1, 4095, 123_456, 1_000_000, 1_999_999, 2_000_000 })
        {
            Assert.Equal(row * 1e-3, trace.Times[row], 1e-9);
            Assert.Equal(column[row], trace[row, x]);
            Assert.Equal(Math.Cos(trace.Times[row]), column[row], 1e-8);
        }

        Assert.Equal(Math.Cos(777.7), trace.At(x, 777.7), 1e-6);
    }

    [Fact]
    public void Readers_on_several_threads_see_the_same_values()
    {
        var prepared = TextModel.Prepare("Real x; equation der(x) = 1;");
        var trace = TextModel
            .Run(
                prepared,
                new RunOptions
                {
                    End = 5000,
                    Method = IntegrationMethod.Euler,
                    Step = 1e-3,
                    OutputInterval = 1e-3,
                }
            )
            .Trace;
        var x = prepared.Compiled!.Plan.RepresentativeOf("x");
        Assert.True(trace.Bytes > trace.ResidentBytes);
        Parallel.For(0, 2000, i =>
        {
            var row = (int)(i * 7919L * 613 % trace.Rows);
            Assert.Equal(trace.Times[row], trace[row, x], 1e-6);
        });
    }

    [Fact]
    public void Files_of_traces_lie_in_their_folder_and_go_with_them()
    {
        var folder = Directory.CreateTempSubdirectory("anchor-bend-traces-").FullName;
        File.WriteAllText(Path.Combine(folder, "anchor-bend-7-left.trace"), "left by a process that was killed");
        TraceFolder.Use(folder);
        Assert.Empty(Directory.GetFiles(folder));
        var result = TextModel.Run("Real x; equation x = sin(time);", 1, new RunOptions { End = 1, OutputInterval = 2.5e-7 });
        Assert.True(result.Trace.Bytes > result.Trace.ResidentBytes);
        Assert.NotEmpty(Directory.GetFiles(folder));
        result.Trace.Dispose();
        TraceFolder.Use(Directory.CreateTempSubdirectory("anchor-bend-traces-").FullName);
        // Another long trace of a test beside this one may have begun in the folder meanwhile.
        Assert.True(Directory.GetFiles(folder).Length <= 1);
    }
}
