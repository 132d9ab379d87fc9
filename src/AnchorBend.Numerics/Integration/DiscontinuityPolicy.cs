namespace AnchorBend.Numerics.Integration;

/// <summary>At which discontinuities of the right side a method's steps should end.</summary>
public enum DiscontinuityPolicy
{
    /// <summary>At none: equal steps go on as they are.</summary>
    None,

    /// <summary>Where slopes jump: a method of many steps pays for every restart, and lowers its order at a bend by itself.</summary>
    Jumps,

    /// <summary>Also where they bend: a method of many stages goes on at once behind a discontinuity.</summary>
    JumpsAndBends,
}
