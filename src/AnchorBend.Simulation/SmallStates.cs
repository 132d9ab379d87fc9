namespace AnchorBend.Simulation;

/// <summary>
/// States that stay so small that the absolute tolerance leaves them open: an error estimate that allows 1e-9 says nothing of a state of
/// 1e-12. States at zero are none, nor is what rounding makes of zero.
/// </summary>
sealed unsafe class SmallStates
{
    /// <summary>How many times its absolute tolerance a state must reach for two digits.</summary>
    const double Enough = 100;

    /// <summary>What rounding leaves of numbers of ordinary size that cancel.</summary>
    const double Rounding = 1e-15;

    readonly List<(int State, double Limit, bool Began)> waiting = [];
    readonly double[] largest;

    public SmallStates(ModelInstance model, RunOptions options)
    {
        largest = new double[model.StateCount];
        if (!options.IsAdaptive)
            return;
        var limits = IntegratorChoice.Absolute(model, options.AbsoluteTolerance);
        for (var i = 0; i < limits.Length; i++)
            waiting.Add((i, Enough * limits[i], model.Parameters.Starts[model.Compiled.Plan.States[i]] != 0));
    }

    /// <summary>States that are still looked at.</summary>
    public int Count => waiting.Count;

    /// <summary>Looks at the states after a step.</summary>
    public void Look(double* x)
    {
        for (var i = waiting.Count - 1; i >= 0; i--)
        {
            var size = Math.Abs(x[waiting[i].State]);
            largest[waiting[i].State] = Math.Max(largest[waiting[i].State], size);
            if (size < waiting[i].Limit)
                continue;
            waiting[i] = waiting[^1];
            waiting.RemoveAt(waiting.Count - 1);
        }
    }

    public IEnumerable<int> Remaining => waiting.Where(w => largest[w.State] > (w.Began ? 0 : Rounding)).Select(w => w.State).Order();
}
