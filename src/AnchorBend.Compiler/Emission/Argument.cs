using System.Reflection.Emit;

namespace AnchorBend.Compiler.Emission;

/// <summary>Arguments of generated methods; the first of all is the delegate's own.</summary>
enum Argument : short
{
    Runtime = 1,
    Time,
    States,
    Derivatives,
    Memory,
    Mode,
    Result,
}

static class ArgumentEmission
{
    public static void LoadArgument(this ILGenerator il, Argument argument)
    {
        if (argument <= (Argument)3)
            il.Emit(
                argument switch
                {
                    (Argument)1 => OpCodes.Ldarg_1,
                    (Argument)2 => OpCodes.Ldarg_2,
                    _ => OpCodes.Ldarg_3,
                }
            );
        else
            il.Emit(OpCodes.Ldarg_S, (byte)argument);
    }
}
