namespace AnchorBend.Design;

/// <summary>A controller without direct way and dead times in series with a plant, and the loop closed around them.</summary>
static class LoopConnection
{
    /// <summary>States of the controller first; it has no dead times.</summary>
    public static LinearSystem Series(LinearSystem controller, LinearSystem plant)
    {
        int k = controller.Order,
            n = plant.Order,
            m = plant.Delays.Length;
        var a = new double[k + n, k + n];
        for (var i = 0; i < k; i++)
        for (var j = 0; j < k; j++)
            a[i, j] = controller.A[i, j];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < k; j++)
                a[k + i, j] = plant.B[i] * controller.C[j];
            for (var j = 0; j < n; j++)
                a[k + i, k + j] = plant.A[i, j];
        }

        var e = new double[k + n, m];
        for (var i = 0; i < n; i++)
        for (var j = 0; j < m; j++)
            e[k + i, j] = plant.E[i, j];
        var g = new double[m, k + n];
        for (var i = 0; i < m; i++)
        {
            for (var j = 0; j < k; j++)
                g[i, j] = plant.H[i] * controller.C[j];
            for (var j = 0; j < n; j++)
                g[i, k + j] = plant.G[i, j];
        }

        return new LinearSystem
        {
            A = a,
            B = [.. controller.B, .. plant.B.Select(b => b * controller.D)],
            C = [.. controller.C.Select(c => plant.D * c), .. plant.C],
            D = plant.D * controller.D,
            E = e,
            F = plant.F,
            G = g,
            H = [.. plant.H.Select(h => h * controller.D)],
            K = plant.K,
            Delays = plant.Delays,
            States = [.. controller.States, .. plant.States],
        };
    }

    /// <summary>With negative feedback of the output, from what it is compared with.</summary>
    public static LinearSystem Closed(LinearSystem open)
    {
        int n = open.Order,
            m = open.Delays.Length;
        var a = (double[,])open.A.Clone();
        var e = (double[,])open.E.Clone();
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                a[i, j] -= open.B[i] * open.C[j];
            for (var j = 0; j < m; j++)
                e[i, j] -= open.B[i] * open.F[j];
        }

        return open with
        {
            A = a,
            E = e,
        };
    }

    /// <summary>With what is added to the plant's input in place of the set-point.</summary>
    /// <param name="controller">Number of the controller's states.</param>
    public static LinearSystem Loaded(LinearSystem open, int controller, LinearSystem plant) =>
        Closed(open) with
        {
            B = [.. new double[controller], .. plant.B],
            H = plant.H,
            D = plant.D,
        };
}
