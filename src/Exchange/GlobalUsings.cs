global using System.Collections.Immutable;
global using Vellumkeep.Core;
global using Vellumkeep.Core.Forms;
global using Vellumkeep.Core.Records;
