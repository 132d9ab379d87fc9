block PerUnit "Scales to per-unit values and back"
  type Quantity = enumeration(voltage "Voltage", current "Current", power "Power", impedance "Impedance", speed "Speed", torque "Torque", flux "Flux");
  parameter Quantity quantity = Quantity.current "What is scaled";
  parameter Boolean back = false "From per-unit values back";
  parameter Real S(unit = "V.A", min = 1e-9) = 1000 "Rated apparent power";
  parameter Real V(unit = "V", min = 1e-9) = 24 "Rated voltage of a phase, amplitude";
  parameter Real f(unit = "Hz", min = 1e-9) = 50 "Rated frequency";
  parameter Integer pairs(min = 1) = 4 "Pole pairs";
  input Real u "Value";
  output Real y "Scaled value";
protected
  constant Real pi = 3.141592653589793;
  parameter Real I = 2 * S / (3 * V) "Rated current, amplitude";
  parameter Real w = 2 * pi * f "Rated electrical speed";
  parameter Real base = if quantity == Quantity.voltage then V elseif quantity == Quantity.current then I elseif quantity == Quantity.power then S elseif quantity == Quantity.impedance then V / I elseif quantity == Quantity.speed then w / pairs elseif quantity == Quantity.torque then S * pairs / w else V / w "What counts as 1";
equation
  y = if back then u * base else u / base;
  annotation(__AnchorBend(choiceWords = true, group = "Drives", face = "\\text{p.u.}", keywords = "per unit scaling base rated normalise", width = 64, help = "Divides by the rated value of a quantity, or multiplies with it. All follow from rated power, voltage (amplitude of a phase), frequency and pole pairs: current 2S/(3V), impedance V/I, speed ω/p, torque S p/ω, flux V/ω.", validity = "Exact; signals carry plain numbers on the scaled side."));
end PerUnit;
