//! Outlines: `glyf` with `gvar`, CFF and CFF2.

pub(crate) mod charstring;
pub(crate) mod compact;
pub(crate) mod dict;
pub(crate) mod glyf;
pub(crate) mod gvar;
