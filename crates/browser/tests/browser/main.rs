//! What drives browsers, tested without one: the server of files, the comparison of
//! prediction and measurement, errors of starting.

mod compare;
mod server;
mod starting;
