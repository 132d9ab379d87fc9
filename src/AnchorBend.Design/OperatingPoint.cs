using AnchorBend.Compiler.Emission;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Design;

/// <summary>Values of all variables at one instant.</summary>
/// <param name="Values">By variable index of the flat model.</param>
public sealed record OperatingPoint(double Time, double[] Values, bool IsSteady)
{
    /// <summary>The point a run reaches at a time.</summary>
    /// <exception cref="SimulationException">The run does not get there.</exception>
    public static OperatingPoint AtTime(PreparedModel prepared, ParameterSet parameters, double time, RunOptions settings)
    {
        if (time <= 0) time = 1e-9 * settings.End;
        var options = settings with { End = time, OutputTimes = [time], RecordEvents = false, Keep = null, OutputInterval = null };
        using var simulator = new Simulator(prepared.Compiled!, parameters, options);
        var result = simulator.Run();
        if (result.Failure is { } failure) throw new SimulationException(failure);
        var row = result.Trace.Rows - 1;
        return new OperatingPoint(time, Fill(prepared, parameters, time, v => result.Trace.Has(v) ? result.Trace[row, v] : null), false);
    }

    /// <summary>
    /// A state in which nothing changes, with sources as at the start: Newton's method on dx/dt = 0 with the exact Jacobian; where it is
    /// singular (free integrators) the step of least size is taken.
    /// </summary>
    /// <exception cref="DesignException">There is no steady state, or it is not found.</exception>
    public static unsafe OperatingPoint Steady(PreparedModel prepared, ParameterSet parameters)
    {
        var compiled = prepared.Compiled!;
        using var instance = new ModelInstance(compiled, parameters);
        var n = instance.StateCount;
        void Evaluate()
        {
            // Discrete values may depend on each other through the events of this instant, delayed ones on one another.
            for (var pass = 0; pass < 3 + prepared.Model.Delays.Count; pass++)
            {
                instance.Evaluate(0, instance.States, instance.StateDerivatives, EvaluationMode.Event);
                for (var i = 0; i < compiled.Plan.Discretes.Length; i++) instance.Memory[compiled.Layout.PreviousBase + i] = instance.Memory[compiled.Plan.Discretes[i]];
                instance.SettleDelays(0);
            }
        }

        double[] Values() => Fill(prepared, parameters, 0, v => instance.Value(v));
        Evaluate();
        for (var iteration = 0; iteration < 100 && n > 0; iteration++)
        {
            var f = Vector<double>.Build.Dense(n, i => instance.StateDerivatives[i]);
            var x = Vector<double>.Build.Dense(n, i => instance.States[i]);
            if (f.Any(v => !double.IsFinite(v))) throw new DesignException("steady", "The search for a steady state left the range of the model.", "Give start values nearer to it.");
            var jacobian = Linearizer.StateMatrix(prepared, Values());
            var step = LeastStep(Matrix<double>.Build.DenseOfArray(jacobian), f);
            var damping = 1.0;
            for (; damping > 1e-6; damping /= 2)
            {
                for (var i = 0; i < n; i++) instance.States[i] = x[i] - damping * step[i];
                Evaluate();
                var norm = 0.0;
                for (var i = 0; i < n; i++) norm += instance.StateDerivatives[i] * instance.StateDerivatives[i];
                if (double.IsFinite(norm) && Math.Sqrt(norm) <= f.L2Norm()) break;
            }

            var change = 0.0;
            for (var i = 0; i < n; i++) change = Math.Max(change, Math.Abs(instance.States[i] - x[i]) / (1e-9 + Math.Abs(x[i])));
            if (change < 1e-10) break;
        }

        for (var i = 0; i < n; i++)
        {
            var scale = 1e-6 * (1 + Math.Abs(instance.States[i]));
            if (Math.Abs(instance.StateDerivatives[i]) <= scale) continue;
            var name = compiled.Plan.Model.NameOf(compiled.Plan.States[i]);
            throw new DesignException("steady", $"There is no steady state: '{name}' keeps changing at {instance.StateDerivatives[i]:G4} per second.",
                "Let a controller or a limit hold it, or linearise at a time instead.");
        }

        return new OperatingPoint(0, Values(), true);
    }

    static Vector<double> LeastStep(Matrix<double> jacobian, Vector<double> f)
    {
        var svd = jacobian.Svd(true);
        var cut = 1e-12 * (svd.S.Count > 0 ? svd.S[0] : 0);
        var inner = svd.U.TransposeThisAndMultiply(f);
        var scaled = Vector<double>.Build.Dense(inner.Count, i => svd.S[i] > cut ? inner[i] / svd.S[i] : 0);
        return svd.VT.TransposeThisAndMultiply(scaled);
    }

    static double[] Fill(PreparedModel prepared, ParameterSet parameters, double time, Func<int, double?> value)
    {
        var values = (double[])parameters.Values.Clone();
        var representative = prepared.Compiled!.Plan.Representative;
        foreach (var variable in prepared.Model.Variables)
            if (variable.Role is VariableRole.Continuous or VariableRole.Discrete) values[variable.Index] = value(representative[variable.Index]) ?? 0;
        values[FlatModel.TimeIndex] = time;
        return values;
    }
}

/// <summary>A design step that cannot be done: why, and what to try.</summary>
public sealed class DesignException(string code, string message, string advice) : Exception(message)
{
    public string Code { get; } = code;

    public string Advice { get; } = advice;
}
