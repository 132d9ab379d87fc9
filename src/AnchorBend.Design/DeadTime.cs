namespace AnchorBend.Design;

/// <summary>Whether all that comes through a system comes through with one dead time.</summary>
static class DeadTime
{
    /// <summary>
    /// The system without its delays, and the dead time that stands for all of them, s: every state is looked at as much later as the
    /// delays before it amount to, which makes no difference where all ways to it have the same.
    /// </summary>
    /// <returns>Null where ways with different dead times meet, as around a loop.</returns>
    public static (LinearSystem Without, double Time)? Of(LinearSystem system)
    {
        int n = system.Order,
            m = system.Delays.Length;
        if (m == 0)
            return (system, 0);
        var late = new double?[n + m];
        double? output = null;
        var open = new Queue<int>();
        var consistent = true;
        var tolerance = 1e-9 * system.Delays.Sum();
        void Reach(int place, double time)
        {
            if (late[place] is { } known)
            {
                consistent &= Math.Abs(known - time) <= tolerance;
                return;
            }

            late[place] = time;
            open.Enqueue(place);
        }

        void Out(double time)
        {
            consistent &= output is not { } known || Math.Abs(known - time) <= tolerance;
            output ??= time;
        }

        for (var i = 0; i < n; i++)
            if (system.B[i] != 0)
                Reach(i, 0);
        for (var k = 0; k < m; k++)
            if (system.H[k] != 0)
                Reach(n + k, system.Delays[k]);
        if (system.D != 0)
            Out(0);
        while (consistent && open.TryDequeue(out var from))
        {
            var time = late[from]!.Value;
            for (var i = 0; i < n; i++)
                if ((from < n ? system.A[i, from] : system.E[i, from - n]) != 0)
                    Reach(i, time);
            for (var k = 0; k < m; k++)
                if ((from < n ? system.G[k, from] : system.K[k, from - n]) != 0)
                    Reach(n + k, time + system.Delays[k]);
            if ((from < n ? system.C[from] : system.F[from - n]) != 0)
                Out(time);
        }

        return consistent && output is { } total ? (Undelayed(system), total) : null;
    }

    /// <summary>With w = z; no loop goes through delays alone, as its ways would differ.</summary>
    static LinearSystem Undelayed(LinearSystem s)
    {
        int n = s.Order,
            m = s.Delays.Length;
        // w over (x, u), from those that need no other on.
        var w = new double[m][];
        double[] Of(int k)
        {
            if (w[k] is { } known)
                return known;
            var row = new double[n + 1];
            for (var j = 0; j < n; j++)
                row[j] = s.G[k, j];
            row[n] = s.H[k];
            for (var j = 0; j < m; j++)
            {
                if (s.K[k, j] == 0)
                    continue;
                var other = Of(j);
                for (var i = 0; i <= n; i++)
                    row[i] += s.K[k, j] * other[i];
            }

            return w[k] = row;
        }

        var (a, b, c, d) = ((double[,])s.A.Clone(), (double[])s.B.Clone(), (double[])s.C.Clone(), s.D);
        for (var k = 0; k < m; k++)
        {
            var row = Of(k);
            for (var i = 0; i < n; i++)
            {
                for (var j = 0; j < n; j++)
                    a[i, j] += s.E[i, k] * row[j];
                b[i] += s.E[i, k] * row[n];
                c[i] += s.F[k] * row[i];
            }

            d += s.F[k] * row[n];
        }

        return LinearSystem.Of(a, b, c, d, s.States);
    }
}
