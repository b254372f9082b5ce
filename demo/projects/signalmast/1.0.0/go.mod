module halmere.example/signalmast

go 1.21
