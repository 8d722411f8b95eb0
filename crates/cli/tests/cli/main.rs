//! The built program on files in a temporary folder.

mod bad_input;
mod build;
mod check;
mod compare;
mod confines;
mod cover;
mod demo;
mod describe;
mod everyday;
mod forecast;
mod help;
mod hostile;
mod init;
mod outputs;
mod platforms;
mod project;
mod rank;
mod record;
mod shift;
mod sites;
mod slices;
mod trace;
mod trim;
mod workshop;
