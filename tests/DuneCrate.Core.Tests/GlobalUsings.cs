global using DuneCrate.Foundation.Frames;
global using DuneCrate.Foundation.Passes;
global using DuneCrate.Planning.Edits;
global using DuneCrate.Planning.Model;
