block SampledStateSpace "Sampled state space"
  input Real u "Input";
  output Real y "Output";
  parameter Real T(unit = "s", min = 1e-9) = 0.1 "Sample time";
  parameter Real A[:, :] = {{1, 0.1}, {0, 1}} "System matrix";
  parameter Real B[size(A, 1)] = {0.005, 0.1} "Input vector";
  parameter Real C[size(A, 1)] = {1, 0} "Output vector";
  parameter Real D = 0 "Direct gain";
  parameter Real x0[size(A, 1)] = zeros(size(A, 1)) "Start values";
protected
  discrete Real x[size(A, 1)](start = x0) "States";
  discrete Real last(start = 0) "Last input";
equation
  when sample(0, T) then
    last = u;
    for i in 1:size(A, 1) loop
      x[i] = if initial() then x0[i] else sum({A[i, j] * pre(x[j]) for j in 1:size(A, 1)}) + B[i] * pre(last);
    end for;
    y = C * x + D * u;
  end when;
  annotation(__AnchorBend(group = "Sampled", face = "x_{k+1}=Ax_k+Bu_k", keywords = "discrete state space difference equations", width = 112, help = "States change at the samples only.", validity = "Exact at its samples; matrices fit each other in size."));
end SampledStateSpace;
