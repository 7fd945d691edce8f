global using System.Collections.Immutable;
global using Vellumkeep.Core;
global using Vellumkeep.Core.Addressing;
global using Vellumkeep.Core.Algorithms;
global using Vellumkeep.Core.Forms;
global using Vellumkeep.Core.Negotiation;
global using Vellumkeep.Core.Quantities;
global using Vellumkeep.Core.Records;
