block FunctionOfOne "A mathematical function of one variable"
  type Kind = enumeration(sin, cos, tan, asin, acos, atan, sinh, cosh, tanh, exp, log "Natural logarithm", log10 "Decimal logarithm", sqrt "Square root", square "Square", reciprocal "One divided by", sign "Sign");
  input Real u "Input";
  output Real y "Output";
  parameter Kind kind = Kind.sin "Function";
equation
  y = if kind == Kind.sin then sin(u) elseif kind == Kind.cos then cos(u) elseif kind == Kind.tan then tan(u)
    elseif kind == Kind.asin then asin(u) elseif kind == Kind.acos then acos(u) elseif kind == Kind.atan then atan(u)
    elseif kind == Kind.sinh then sinh(u) elseif kind == Kind.cosh then cosh(u) elseif kind == Kind.tanh then tanh(u)
    elseif kind == Kind.exp then exp(u) elseif kind == Kind.log then log(u) elseif kind == Kind.log10 then log10(u)
    elseif kind == Kind.sqrt then sqrt(u) elseif kind == Kind.square then u * u elseif kind == Kind.reciprocal then 1 / u
    else (if u > 0 then 1 elseif u < 0 then -1 else 0);
  annotation(__AnchorBend(group = "Maths", face = "\\text{<<kind>>}\\,u", keywords = "sine cosine exponential root logarithm trigonometric", width = 64,
    help = "Applies the chosen function. An operand outside its range (a root of a negative number, say) stops the run with a message.", validity = "Within the function’s domain: logarithms above zero, inverse sine and cosine from -1 to 1."));
end FunctionOfOne;
