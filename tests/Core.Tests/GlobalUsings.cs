global using Vellumkeep.Core.Fixes;
global using Vellumkeep.Core.Forms;
global using Vellumkeep.Core.Parsing;
global using Vellumkeep.Core.Proposals;
global using Vellumkeep.Core.Records;
global using Vellumkeep.Core.Timing;
global using Vellumkeep.Core.Verdicts;
