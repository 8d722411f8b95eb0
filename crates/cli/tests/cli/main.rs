//! The built program on files in a temporary folder.

mod bad_input;
mod build;
mod cover;
mod demo;
mod help;
mod workshop;
