using System.Globalization;
using System.Runtime.InteropServices;
using System.Security.Cryptography;
using System.Text;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Preparation;

/// <summary>Tells which models share one plan.</summary>
public static class StructureKey
{
    /// <summary>
    /// Everything that a compiled plan holds of a flat model: all but the bindings of parameters, which a run takes from outside. Which of
    /// these are zero belongs to it, as products with zero are left out and loops are torn so that nothing is divided by one.
    /// </summary>
    public static string Of(FlatModel model)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var line = new StringBuilder();
        void Append(params ReadOnlySpan<object?> entries)
        {
            line.Clear();
            foreach (var entry in entries)
            {
                if (entry is Term term)
                    TermKey.Write(line, term);
                else
                    line.Append(CultureInfo.InvariantCulture, $"{entry}");
                line.Append('\n');
            }

            foreach (var chunk in line.GetChunks())
                hash.AppendData(MemoryMarshal.AsBytes(chunk.Span));
        }

        var values = model.ParameterValues();
        Append(model.Name);
        foreach (var v in model.Variables)
        {
            Append(
                v.Name,
                v.Owner,
                v.Role,
                v.Type,
                v.Derivative,
                v.IsFixed,
                v.IsFixedByDefault,
                v.Selection,
                v.IsPlayed,
                v is { Role: VariableRole.Parameter, IsPlayed: false } && values[v.Index] == 0
            );
            Append(v.Start, v.Nominal, v.Minimum, v.Maximum, v.IsStructural ? v.Binding : null);
        }

        foreach (var e in model.Equations)
            Append(e.Left, e.Right, e.Owner);
        Append("start");
        foreach (var e in model.InitialEquations)
            Append(e.Left, e.Right, e.Owner);
        Append("reinit");
        foreach (var r in model.Reinits)
            Append(r.Condition, r.State, r.Value, r.Owner);
        Append("clock");
        foreach (var c in model.Clocks)
            Append(c.Flag, c.Start, c.Interval, c.Owner);
        Append("delay");
        foreach (var d in model.Delays)
            Append(d.Source, d.Duration, d.Varying, d.Owner);
        Append("assert");
        foreach (var a in model.Assertions)
            Append(a.Condition, a.Message, a.IsError, a.Owner);
        return Convert.ToHexString(hash.GetHashAndReset());
    }
}
