"""The live link to a controller: CANopen SDO through a CAN library's back ends."""
