using System.Runtime.InteropServices;
using System.Text;

/// <summary>A C library that solves problems by name, called within this process so that both sides meet the same state of the
/// machine.</summary>
sealed unsafe class Reference
{
    /// <summary>More values than any problem has.</summary>
    const int Most = 1000;

    readonly delegate* unmanaged<byte*, double, int, double*, int> solve;

    public Reference(string path) =>
        solve = (delegate* unmanaged<byte*, double, int, double*, int>)
            NativeLibrary.GetExport(NativeLibrary.Load(Path.GetFullPath(path)), "solve");

    /// <summary>The values at the end; none where it gives up.</summary>
    public double[] Solve(string problem, double tolerance, int setting)
    {
        var values = new double[Most];
        fixed (byte* name = Encoding.ASCII.GetBytes(problem + '\0'))
        fixed (double* v = values)
            return values[..solve(name, tolerance, setting, v)];
    }
}
